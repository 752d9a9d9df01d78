"""The stockroom: finding, taking in, dressing from stock, writing on cards, retiring."""

from typing import Annotated, Literal

from fastapi import APIRouter, Header, Query, UploadFile

from ...core.errors import InputError
from ...core.piece.recipe import Receive, Recipe
from ...formats.piece_read import read_model
from ...jobs.stocking import take_in
from ...store import pieces, stock
from ...store.db import run, transaction
from ..queue import ask
from ..received_files import sorted_files
from ..schemas import PieceOut
from ..schemas_stock import CardIn, CountOut, StockItemOut, StockOut, TakenInOut
from .pieces import piece_named
from .production import the_production

router = APIRouter(prefix="/api/stock", tags=["stock"])
Author = Annotated[str, Header(alias="X-Artist", max_length=60)]


@router.get("")
def search(
    q: Annotated[str, Query(max_length=120)] = "",
    category: str | None = None,
    tag: str | None = None,
    favourites: bool = False,
    retired: bool = False,
    sort: Literal["newest", "name", "size"] = "newest",
    limit: Annotated[int, Query(ge=1, le=200)] = 60,
    offset: Annotated[int, Query(ge=0)] = 0,
) -> StockOut:
    """Return the pieces in stock whose cards match, and the categories and tags there are."""
    with transaction() as connection:
        rows = stock.search(connection, q, category, tag, favourites, retired, sort, limit, offset)
        categories = [CountOut(name=r["category"], count=r["count"]) for r in run(connection, "stock_categories")]
        tags = [CountOut(name=r["tag"], count=r["count"]) for r in run(connection, "stock_tags")]
    items = [StockItemOut(**{k: r[k] for k in StockItemOut.model_fields if k in r}, strip=r["strip_sha"]) for r in rows]
    return StockOut(items=items, total=rows[0]["total"] if rows else 0, categories=categories, tags=tags)


@router.post("", status_code=201)
def take(files: list[UploadFile], x_artist: Author = "Artist") -> list[TakenInOut]:
    """Take files into stock, a row for each: done, mended or refused with the reason. One bad file spoils none of the others."""
    mains, beside = sorted_files(files)
    out = []
    for name, data in mains:
        try:
            model = read_model(data, name, beside)
            with transaction() as connection:
                item, found = take_in(connection, model, name, x_artist)
        except InputError as error:
            out.append(TakenInOut(file=name, state="refused", why=str(error), item=None))
            continue
        ask("draw_strip", priority=1, item=item)
        mends = [f["text"] for f in found["findings"] if f["mend"]]
        told = [f["text"] for f in found["findings"] if not f["mend"]]
        state = "needs you" if told else "mended" if mends else "done"
        out.append(TakenInOut(file=name, state=state, why="; ".join(mends + told), item=item))
    if not out:
        raise InputError(what="no piece among the files", where="taking in", todo="Choose files that hold a piece.")
    return out


@router.post("/{item}/dress", status_code=201)
def dress(item: int, x_artist: Author = "Artist") -> PieceOut:
    """Put a piece from stock on the rail, to be placed and fitted there."""
    with transaction() as connection:
        card = stock.item(connection, item)
        production = the_production(connection)
        cast = run(connection, "cast_of", production=production["id"])
        recipe = Recipe(made_on=cast[0]["shape"] if cast else {}, steps=(Receive(),))
        piece, edit = pieces.add_piece(connection, production["id"], card["name"], card["category"], card["file_name"],
                                       card["source_sha"], recipe, x_artist)
        run(connection, "from_stock", piece=piece, item=item)
    ask("evaluate_edit", priority=10, edit=edit)
    return piece_named(piece)


@router.patch("/{item}", status_code=204)
def write(item: int, card: CardIn) -> None:
    """Write on a piece's card."""
    with transaction() as connection:
        stock.change(connection, item, card.name, card.category, card.tags, card.note, card.favourite)


@router.post("/{item}/retire", status_code=204)
def retire(item: int) -> None:
    """Take a piece out of stock; outfits that wear it keep it."""
    with transaction() as connection:
        stock.retire(connection, item, True)


@router.post("/{item}/restore", status_code=204)
def restore(item: int) -> None:
    """Bring a retired piece back into stock."""
    with transaction() as connection:
        stock.retire(connection, item, False)
