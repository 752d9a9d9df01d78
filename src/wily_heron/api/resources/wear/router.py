"""Wearing the outfit on other wearers: runs begun, followed, stopped."""

from fastapi import APIRouter

from ....studio.rail import wearing
from ...deps import AtDesk, ProductionId
from .schemas import WearIn, WearOut

router = APIRouter(prefix="/api/wear", tags=["bind"])


@router.post("", status_code=201)
def wear(desk: AtDesk, request: WearIn) -> WearOut:
    """Wear every piece of the rail on these wearers, or the whole cast, as jobs; each row says done, mended, or needs you."""
    return WearOut.of(wearing.begin(desk, request.wearers))


@router.get("")
def latest_run(production: ProductionId) -> WearOut | None:
    """Return the newest run of wearing on, if there is one."""
    found = wearing.latest(production)
    return WearOut.of(found) if found else None


@router.delete("/{run_id}")
def stop_wearing(run_id: int) -> WearOut:
    """Stop a run; what is done stays."""
    return WearOut.of(wearing.stop(run_id))
