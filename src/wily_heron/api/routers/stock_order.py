"""The order of the stock: shelves, colourways, bundles, and the batches that come in."""


from fastapi import APIRouter
from pydantic import BaseModel

from ...core.bench.recipe import Recipe
from ...core.errors import InputError, NotFound
from ...store import pieces, stock, stock_order
from ...store.db import Connection, one, run, transaction
from ...store.events import notify
from ...store.models import get_model, texture_addresses
from ..deps import Artist, ProductionId
from ..queue import ask
from ..schemas import PieceOut
from ..schemas_stock import BatchOut, BatchRowOut, BundleIn, ColourwayIn, ColourwayOut, ColourwaysOut, DressIn, ShelfIn, SurfaceIO
from ..wearing import coloured_model, hang, in_colours
from .pieces import piece_named

router = APIRouter(prefix="/api", tags=["stock"])


class _Worn(BaseModel):
    """The colourway a piece on the rail is to wear; None: as it came."""

    name: str | None = None


@router.post("/shelves", status_code=201)
def add_shelf(shelf: ShelfIn) -> dict[str, int]:
    """Put up a shelf."""
    if not shelf.name:
        raise InputError(what="it has no name", where="the shelf", todo="Give it one.")
    with transaction() as connection:
        return {"id": stock_order.add_shelf(connection, shelf.name.strip(), shelf.parent)}


@router.patch("/shelves/{number}", status_code=204)
def change_shelf(number: int, shelf: ShelfIn) -> None:
    """Give a shelf another name, or another place."""
    with transaction() as connection:
        stock_order.change_shelf(connection, number, shelf.name, shelf.parent)


@router.delete("/shelves/{number}", status_code=204)
def drop_shelf(number: int) -> None:
    """Take a shelf down; what stood on it stays in stock."""
    with transaction() as connection:
        stock_order.drop_shelf(connection, number)


@router.get("/stock/{item}/colourways")
def colourways(item: int) -> ColourwaysOut:
    """Return a piece's own materials and its colourways."""
    with transaction() as connection:
        card = stock.item(connection, item)
        model, held = get_model(connection, card["source_sha"]), texture_addresses(connection, card["source_sha"])
        rows = run(connection, "colourways", item=item)
    own = {m.name: SurfaceIO(colour=m.colour, roughness=m.roughness, metal=m.metal, texture=held.get(m.colour_map or ""))
           for m in model.mesh.materials}
    return ColourwaysOut(own=own, colourways=[ColourwayOut(name=r["name"], materials=r["materials"]) for r in rows])


@router.put("/stock/{item}/colourways/{name}", status_code=204)
def put_colourway(item: int, name: str, way: ColourwayIn) -> None:
    """Keep a colourway; pieces that wear it take it on."""
    if not 0 < len(name.strip()) <= 40:
        raise InputError(what="its name has no letters or more than 40", where="the colourway", todo="Give it a short name.")
    edits = []
    with transaction() as connection:
        card = stock.item(connection, item)
        materials = {k: v.model_dump() for k, v in way.materials.items()}
        coloured_model(connection, card["source_sha"], materials)  # refuses what the piece does not have
        stock_order.put_colourway(connection, item, name.strip(), materials)
        for piece in run(connection, "pieces_from_stock", item=item):
            if piece["colourway"] == name.strip():
                edits.append(_wear(connection, piece["id"], item, card["source_sha"], name.strip()))
    for edit in edits:
        ask("evaluate_edit", priority=9, edit=edit)


@router.delete("/stock/{item}/colourways/{name}", status_code=204)
def drop_colourway(item: int, name: str) -> None:
    """Forget a colourway that no piece wears."""
    with transaction() as connection:
        if any(p["colourway"] == name for p in run(connection, "pieces_from_stock", item=item)):
            raise InputError(what="a piece on the rail wears it", where=f"the colourway {name}", todo="Give that piece another first.")
        if not run(connection, "drop_colourway", item=item, name=name):
            raise NotFound(what=f"there is no colourway '{name}'", where="this piece", todo="Reload the room.")
        notify(connection, "stock")


@router.post("/pieces/{piece}/colourway")
def wear_colourway(piece: int, way: _Worn) -> PieceOut:
    """Put a piece on the rail in a colourway of its card, or in its own materials again."""
    with transaction() as connection:
        row = one(connection, "piece", piece=piece)
        if row is None or row["stock_id"] is None:
            raise InputError(what="it did not come from stock", where="the colourway", todo="Take it into stock first.")
        edit = _wear(connection, piece, row["stock_id"], stock.item(connection, row["stock_id"])["source_sha"], way.name)
    ask("evaluate_edit", priority=9, edit=edit)
    return piece_named(piece)


def _wear(connection: Connection, piece: int, item: int, source: str, name: str | None) -> int:
    run(connection, "wear_colourway", piece=piece, name=name)
    recipe = Recipe.model_validate(pieces.get_piece(connection, piece)["recipe"])
    return pieces.change_recipe(connection, piece, recipe, f"Colourway {name or 'as it came'}", "Artist", None,
                                in_colours(connection, item, source, name))


@router.post("/bundles", status_code=201)
def put_bundle(artist: Artist, bundle: BundleIn) -> dict[str, int]:
    """Keep pieces that belong together under a name, from the skin outwards."""
    with transaction() as connection:
        for item in bundle.items:
            if stock.item(connection, item)["kind"] != "piece":
                raise InputError(what="only pieces belong in a bundle", where=bundle.name, todo="Leave the others out.")
        made = run(connection, "put_bundle", name=bundle.name.strip(), items=bundle.items, author=artist)[0]["id"]
        notify(connection, "stock")
    return {"id": made}


@router.post("/bundles/{number}/dress", status_code=201)
def dress_bundle(production: ProductionId, artist: Artist, number: int, how: DressIn | None = None) -> list[PieceOut]:
    """Put a whole bundle on the rail in one act, in its order."""
    how = how or DressIn()
    made = []
    with transaction() as connection:
        cast = run(connection, "cast_of", production=production)
        wearer = next((w for w in cast if w["id"] == how.wearer), cast[0] if cast else None)
        for item in stock_order.bundle(connection, number)["items"]:
            made.append(hang(connection, item, production, wearer, None, artist))
    for _, edit in made:
        ask("evaluate_edit", priority=10, edit=edit)
    return [piece_named(piece) for piece, _ in made]


@router.delete("/bundles/{number}", status_code=204)
def drop_bundle(number: int) -> None:
    """Undo a bundle; its pieces stay in stock."""
    with transaction() as connection:
        stock_order.bundle(connection, number)
        run(connection, "drop_bundle", bundle=number)
        notify(connection, "stock")


@router.get("/batches/latest")
def latest_batch() -> BatchOut | None:
    """Return the batch that came in last."""
    with transaction() as connection:
        row = one(connection, "latest_batch")
    return batch_out(row["id"]) if row else None


@router.post("/batches/{batch}/cancel")
def cancel_batch(batch: int) -> BatchOut:
    """Stop a batch: what is taken in stays, what waits is let go."""
    with transaction() as connection:
        run(connection, "cancel_batch", batch=batch)
        notify(connection, "stock")
    return batch_out(batch)


def batch_out(batch: int) -> BatchOut:
    """Return a batch with its rows."""
    with transaction() as connection:
        row = one(connection, "batch", batch=batch)
        if row is None:
            raise NotFound(what=f"there is no batch {batch}", where="taking in", todo="Reload the room.")
        return BatchOut(**row, rows=[BatchRowOut(**r) for r in run(connection, "batch_rows", batch=batch)])
