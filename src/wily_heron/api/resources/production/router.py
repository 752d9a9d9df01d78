"""The production: its cast, poses, pieces, motions and shots in one answer; the cast comes, changes and goes."""

from fastapi import APIRouter

from ....store.productions.settings import Settings
from ....studio.productions import cast, overview, settings
from ...deps import AtDesk, ProductionId
from ..pieces.schemas import PieceOut
from .schemas import AxisOut, CastOut, ProductionOut, ShapeIn, WearerIn, WearerOut

router = APIRouter(prefix="/api", tags=["production"])


@router.get("/production")
def get_production(production: ProductionId) -> ProductionOut:
    """Return what the Fitting room shows."""
    return ProductionOut.of(overview.overview(production))


@router.get("/production/pieces")
def get_pieces(production: ProductionId) -> list[PieceOut]:
    """Return what hangs on the rail, the outermost first."""
    return [PieceOut.of(p) for p in overview.pieces(production)]


@router.get("/production/cast")
def get_cast(production: ProductionId) -> CastOut:
    """Return the wearers and their bodies."""
    return CastOut.of(overview.cast(production))


@router.get("/production/axis")
def get_axis(production: ProductionId) -> AxisOut:
    """Return the poses and motions of the sheet."""
    return AxisOut.of(overview.axis(production))


@router.get("/production/settings")
def get_settings(production: ProductionId) -> Settings:
    """Return what the production has settled for its rooms."""
    return settings.settings(production)


@router.put("/production/settings")
def change_settings(production: ProductionId, request: Settings) -> Settings:
    """Keep other settings of the production."""
    return settings.change(production, request)


@router.post("/wearers", status_code=201)
def add_wearer(desk: AtDesk, wearer: WearerIn) -> WearerOut:
    """Add a wearer to the cast."""
    return WearerOut.of(cast.add(desk, wearer.name, wearer.shape, wearer.body))


@router.delete("/wearers/{wearer}", status_code=204)
def drop_wearer(desk: AtDesk, wearer: int) -> None:
    """Take a wearer out of the cast; a body of one's own stays in stock, pieces stay where they are."""
    cast.drop(desk, wearer)


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
