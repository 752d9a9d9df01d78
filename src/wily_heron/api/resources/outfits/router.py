"""Outfits: begun, copied, named, put on, deleted."""

from fastapi import APIRouter

from ....studio.productions import outfits
from ...deps import AtDesk, ProductionId
from .schemas import OutfitIn, OutfitNameIn, OutfitOut, PutOnIn

router = APIRouter(prefix="/api", tags=["outfits"])


@router.get("/outfits")
def all_outfits(production: ProductionId) -> list[OutfitOut]:
    """Return the outfits of the production in their order."""
    return [OutfitOut.of(row) for row in outfits.outfits(production)]


@router.post("/outfits", status_code=201)
def begin(desk: AtDesk, request: OutfitIn) -> dict[str, int]:
    """Begin an outfit, empty or like another, and change a wearer into it if one is named."""
    return {"id": outfits.begin(desk, request.name, request.like, request.wearer)}


@router.patch("/outfits/{outfit}", status_code=204)
def rename(production: ProductionId, outfit: int, request: OutfitNameIn) -> None:
    """Give an outfit another name."""
    outfits.rename(production, outfit, request.name)


@router.delete("/outfits/{outfit}", status_code=204)
def drop(desk: AtDesk, outfit: int) -> None:
    """Delete an outfit that nobody has on, with its pieces; a working copy keeps them."""
    outfits.drop(desk, outfit)


@router.put("/wearers/{wearer}/outfit", status_code=204)
def put_on(wearer: int, request: PutOnIn) -> None:
    """Change a wearer into an outfit."""
    outfits.put_on(wearer, request.outfit)
