"""The stockroom: finding, taking in, using, writing on cards, duplicating, replacing, retiring."""

from typing import Annotated, Literal

from fastapi import APIRouter, Query, Response, UploadFile

from ....store.stock import items
from ....studio.stock import keeping, taking_in, using
from ...deps import AtDesk
from ...received_files import one_model, sorted_files
from ...wire import BINARY, file
from ..order.schemas import BatchOut
from ..pieces.schemas import PieceOut
from .schemas import CardIn, DressIn, FabricIn, ManyIn, ReplacedOut, SearchIn, StockOut, UsedOut

router = APIRouter(prefix="/api/stock", tags=["stock"])


@router.get("")
def search(request: Annotated[SearchIn, Query()]) -> StockOut:
    """Return the items in stock whose cards match, and the categories, kinds, tags, shelves and bundles there are."""
    return StockOut.of(keeping.search(items.Query(request.q, **request.model_dump(exclude={"q", "fits"})), request.fits))


@router.post("", status_code=201)
def take(desk: AtDesk, files: list[UploadFile], shelf: int | None = None) -> BatchOut:
    """Take files into stock as a job with a row for each: done, mended, needs you or refused with the reason.

    Materials, buffers and textures go with the pieces that ask for them; pictures that come alone are textures of the stock.
    """
    return BatchOut.of(taking_in.take_files(desk, *sorted_files(files), shelf))


@router.post("/fabrics", status_code=201)
def make_fabric(desk: AtDesk, fabric: FabricIn) -> dict[str, int]:
    """Make a fabric: a colour, and the texture of the stock it tints if it has one."""
    return {"id": keeping.make_fabric(desk, fabric.name, fabric.cloth(), fabric.texture)}


@router.post("/from-rail/{piece}", status_code=201)
def keep_piece(desk: AtDesk, piece: int) -> dict[str, int]:
    """Put a piece that hangs on the rail into stock, as it came; the rail's piece is then one of the stock's."""
    return {"id": keeping.keep_piece(desk, piece)}


@router.post("/many", status_code=204)
def many(change: ManyIn) -> None:
    """Put many items on a shelf, give them a tag, or retire them."""
    keeping.change_many(change.items, change.shelf, change.off_shelf, change.tag, change.retired)


@router.post("/{item}/dress", status_code=201)
def dress(desk: AtDesk, item: int, how: DressIn | None = None) -> PieceOut:
    """Put a piece from stock on the rail, to be placed and fitted there."""
    how = how or DressIn()
    return PieceOut.of(using.dress(desk, item, how.wearer, how.colourway, how.at_once))


@router.post("/{item}/use")
def use(desk: AtDesk, item: int, how: DressIn | None = None) -> UsedOut:
    """Use an item by its kind: a body joins the cast, a pose the axis, a motion plays, an extra grows on the wearer."""
    return UsedOut.of(using.use(desk, item, how.wearer if how else None))


@router.patch("/{item}", status_code=204)
def write(item: int, card: CardIn) -> None:
    """Write on a card."""
    keeping.write(item, card.model_dump())


@router.post("/{item}/duplicate", status_code=201)
def duplicate(desk: AtDesk, item: int) -> dict[str, int]:
    """Put a copy in stock, colourways and all."""
    return {"id": keeping.duplicate(desk, item)}


@router.post("/{item}/replace")
def replace_with_newer(desk: AtDesk, item: int, files: list[UploadFile]) -> ReplacedOut:
    """Put a newer version in a piece's place: pieces that came from it run their recipes again; the version before is kept."""
    version, pieces = keeping.replace_with(desk, item, *one_model(files, "the newer version"))
    return ReplacedOut(version=version, pieces=pieces)


@router.get("/{item}/file", response_class=Response, responses=BINARY)
def download(item: int, ending: Literal[".glb", ".obj", ".usdz", ".usdc", ".usda", ".ply", ".stl"] = ".glb") -> Response:
    """Return a piece in stock as a file, upright and in metres, with what came with it; several files come as one zip."""
    name, data = keeping.as_file(item, ending)
    return file(data, name, "application/octet-stream")


@router.post("/{item}/retire", status_code=204)
def retire(item: int) -> None:
    """Take an item out of stock; outfits that wear it keep it."""
    keeping.change_many([item], None, False, None, True)


@router.post("/{item}/restore", status_code=204)
def restore(item: int) -> None:
    """Bring a retired item back into stock."""
    keeping.change_many([item], None, False, None, False)
