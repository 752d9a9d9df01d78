"""The order of the stock: shelves, colourways, bundles, and the batches that come in."""

from fastapi import APIRouter

from ....studio.stock import colourways as ways
from ....studio.stock import order, taking_in, using
from ...deps import AtDesk
from ..pieces.schemas import PieceOut
from ..stock.schemas import DressBundleIn
from .schemas import BatchOut, BundleIn, ColourwayIn, ColourwayOut, ColourwaysOut, ShelfIn, WornColourwayIn

router = APIRouter(prefix="/api", tags=["stock"])


@router.post("/shelves", status_code=201)
def add_shelf(shelf: ShelfIn) -> dict[str, int]:
    """Put up a shelf."""
    return {"id": order.add_shelf(shelf.name, shelf.parent)}


@router.patch("/shelves/{number}", status_code=204)
def change_shelf(number: int, shelf: ShelfIn) -> None:
    """Give a shelf another name, or another place."""
    order.change_shelf(number, shelf.name, shelf.parent)


@router.delete("/shelves/{number}", status_code=204)
def drop_shelf(number: int) -> None:
    """Take a shelf down; what stood on it stays in stock."""
    order.drop_shelf(number)


@router.get("/stock/{item}/colourways")
def colourways(item: int) -> ColourwaysOut:
    """Return a piece's own materials and its colourways."""
    own, found = ways.colourways(item)
    return ColourwaysOut(own=own, colourways=[ColourwayOut.of(way) for way in found])


@router.put("/stock/{item}/colourways/{name}", status_code=204)
def put_colourway(desk: AtDesk, item: int, name: str, way: ColourwayIn) -> None:
    """Keep a colourway; pieces that wear it take it on."""
    ways.put(desk, item, name, way.materials)


@router.delete("/stock/{item}/colourways/{name}", status_code=204)
def drop_colourway(item: int, name: str) -> None:
    """Forget a colourway that no piece wears."""
    ways.drop(item, name)


@router.post("/pieces/{piece}/colourway")
def wear_colourway(desk: AtDesk, piece: int, way: WornColourwayIn) -> PieceOut:
    """Put a piece on the rail in a colourway of its card, or in its own materials again."""
    return PieceOut.of(ways.wear(desk, piece, way.name))


@router.post("/bundles", status_code=201)
def put_bundle(desk: AtDesk, bundle: BundleIn) -> dict[str, int]:
    """Keep pieces that belong together under a name, from the skin outwards."""
    return {"id": order.put_bundle(desk, bundle.name, bundle.items)}


@router.post("/bundles/{number}/dress", status_code=201)
def dress_bundle(desk: AtDesk, number: int, how: DressBundleIn | None = None) -> list[PieceOut]:
    """Put a whole bundle on in one act, in its order: over what is worn, or instead of it as an outfit of its own."""
    how = how or DressBundleIn()
    return [PieceOut.of(piece) for piece in using.dress_bundle(desk, number, how.wearer, how.at_once, how.instead)]


@router.delete("/bundles/{number}", status_code=204)
def drop_bundle(number: int) -> None:
    """Undo a bundle; its pieces stay in stock."""
    order.drop_bundle(number)


@router.get("/batches/latest")
def latest_batch() -> BatchOut | None:
    """Return the batch that came in last."""
    found = taking_in.latest_batch()
    return BatchOut.of(found) if found else None


@router.post("/batches/{batch}/cancel")
def cancel_batch(batch: int) -> BatchOut:
    """Stop a batch: what is taken in stays, what waits is let go."""
    return BatchOut.of(taking_in.cancel_batch(batch))
