"""The production: its cast, poses, pieces, motions and shots in one answer; the cast comes, changes and goes."""

from fastapi import APIRouter

from ....studio.productions import cast
from ....studio.productions.overview import overview
from ...deps import AtDesk
from .schemas import ProductionOut, ShapeIn, WearerIn, WearerOut

router = APIRouter(prefix="/api", tags=["production"])


@router.get("/production")
def get_production() -> ProductionOut:
    """Return what the Fitting room shows."""
    return ProductionOut.of(overview())


@router.post("/wearers", status_code=201)
def add_wearer(desk: AtDesk, wearer: WearerIn) -> WearerOut:
    """Add a wearer to the cast."""
    return WearerOut.of(cast.add(desk, wearer.name, wearer.shape, wearer.body))


@router.delete("/wearers/{wearer}", status_code=204)
def drop_wearer(wearer: int) -> None:
    """Take a wearer out of the cast; a body of one's own stays in stock, pieces stay where they are."""
    cast.drop(wearer)


@router.put("/wearers/{wearer}/shape")
def set_shape(desk: AtDesk, wearer: int, settings: ShapeIn) -> WearerOut:
    """Keep new shape settings for a wearer; they can be undone."""
    return WearerOut.of(cast.set_shape(desk, wearer, settings.shape))


@router.post("/wearers/{wearer}/undo")
def undo_shape(wearer: int) -> WearerOut:
    """Go back to the wearer's shape before."""
    return WearerOut.of(cast.step(wearer, "undo"))


@router.post("/wearers/{wearer}/redo")
def redo_shape(wearer: int) -> WearerOut:
    """Go forward to the wearer's shape after."""
    return WearerOut.of(cast.step(wearer, "redo"))
