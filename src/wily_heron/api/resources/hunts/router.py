"""Hunts for failures in random poses and on mixes of wearers."""

from fastapi import APIRouter

from ....studio.sheet import hunts
from ...deps import AtDesk, ProductionId
from .schemas import HuntIn, HuntOut

router = APIRouter(prefix="/api/hunts", tags=["trials"])


@router.post("", status_code=201)
def start(desk: AtDesk, request: HuntIn) -> HuntOut:
    """Try the outfit in seeded random poses on every wearer and on mixes of those without a body of their own; a new seed each time."""
    return HuntOut.of(hunts.begin(desk, request.poses, request.share, request.mixes))


@router.get("/latest")
def latest(production: ProductionId) -> HuntOut | None:
    """Return the newest hunt, if there is one."""
    found = hunts.latest(production)
    return HuntOut.of(found) if found else None


@router.delete("/{hunt}")
def cancel(hunt: int) -> HuntOut:
    """Stop a hunt; what was found stays."""
    return HuntOut.of(hunts.cancel(hunt))
