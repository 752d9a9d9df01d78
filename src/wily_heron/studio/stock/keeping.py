"""Keeping the stock: searching it, writing on cards, putting pieces in, replacing them, writing them as files."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from ...core.errors import InputError
from ...core.model.model import Model
from ...core.model.steps.receive import Receive
from ...core.receive.receive import receive
from ...formats.model_write import write_model, zipped
from ...formats.slug import slug
from ...store.blobs.models import get_model, put_model
from ...store.db import transaction
from ...store.productions.wearers import get_wearer
from ...store.rail import pieces
from ...store.stock import items, order
from ...store.stock.items import Card, Content, CountRow, FoundRow, Query
from ...store.stock.order import BundleRow, Cloth, ShelfRow
from .. import work
from ..desk import Desk
from ..wearer import wearer_as
from .colourways import in_colours
from .taking_in import STATURE, take_fabric, take_piece


@dataclass(frozen=True)
class Found:
    """What a search of the stock found, of a `total` of all that match, and the order of all of it."""

    items: list[FoundRow]
    total: int
    categories: list[CountRow]
    kinds: list[CountRow]
    tags: list[CountRow]
    shelves: list[ShelfRow]
    bundles: list[BundleRow]


def search(query: Query, fits: int | None) -> Found:
    """Return the items whose cards match; `fits` is a wearer: pieces made for that body, of a size that can be worn on it."""
    with transaction() as connection:
        if fits is not None:
            who = get_wearer(connection, fits)
            stature = float(wearer_as(who.body, who.shape, 1).points[:, 1].max())
            query = replace(query, body=who.body, stature=stature)
        found = items.search(connection, query)
        categories, kinds, tags = (items.counts(connection, of) for of in ("categories", "kinds", "tags"))
        return Found(found, found[0].total if found else 0, categories, kinds, tags, order.shelves(connection), order.bundles(connection))


def write(item: int, written: Mapping[str, Any]) -> None:
    """Write on a card; what is left out (or None) stays."""
    with transaction() as connection:
        items.change(connection, item, written)


def change_many(numbers: Sequence[int], shelf: int | None, off_shelf: bool, tag: str | None, retired: bool | None) -> None:
    """Put many items on a shelf or off it, give them a tag, retire or restore them; what is None stays."""
    with transaction() as connection:
        for item in numbers:
            items.get_item(connection, item)
        if shelf is not None or off_shelf:
            order.file_away(connection, numbers, shelf)
        if tag:
            items.tag(connection, numbers, tag)
        if retired is not None:
            items.retire(connection, numbers, retired)


def duplicate(desk: Desk, item: int) -> int:
    """Put a copy in stock, colourways and all; return it."""
    with transaction() as connection:
        return items.duplicate(connection, item, desk.artist)


def make_fabric(desk: Desk, name: str, cloth: Cloth, texture: int | None) -> int:
    """Make a fabric: a colour, and the `texture` of the stock it tints if it has one; return it."""
    with transaction() as connection:
        if texture is not None:
            card = items.get_item(connection, texture)
            if card.kind != "texture":
                raise InputError(what="it is no texture", where=card.name, todo="Choose a texture of the stock.")
            cloth = cloth.model_copy(update={"texture": card.source})
        item = take_fabric(connection, name.strip(), cloth, desk.artist)
    desk.ask(work.draw(item))
    return item


def keep_piece(desk: Desk, piece: int) -> int:
    """Put a piece that hangs on the rail into stock, as it came; the rail's piece is then one of the stock's. Return the item."""
    with transaction() as connection:
        now = pieces.get_piece(connection, piece)
        if now.stock is not None:
            raise InputError(what="it is in stock already", where=now.name, todo="Look for it in the stockroom.")
        card = Card(now.name, now.category)
        item, _ = take_piece(connection, get_model(connection, now.source), now.file_name, desk.artist, card)
        if now.body:
            items.set_made_for(connection, item, now.body)
        pieces.set_stock(connection, piece, item)
    desk.ask(work.draw(item))
    return item


def replace_with(desk: Desk, item: int, model: Model, name: str, size: int) -> tuple[int, list[int]]:
    """Put a newer version in a piece's place; return its version, and the pieces from it, which run their recipes again."""
    found = receive(model, Receive(), STATURE).report
    with transaction() as connection:
        card = items.get_item(connection, item)
        sha = put_model(connection, model)
        mends = sum(1 for f in found.findings if f.mend)
        items.renew(connection, item, Content(name, sha, found.vertices, size, mends))
        users = pieces.made_from_stock(connection, item)
        edits = [pieces.change_recipe(connection, piece.id, piece.recipe, f"Newer version of {card.name}", desk.artist, None,
                                      in_colours(connection, item, sha, piece.colourway)) for piece in users]
    for edit in edits:
        desk.ask(work.evaluate_of_stock(edit))
    desk.ask(work.draw(item))
    return card.version + 1, [piece.id for piece in users]


def as_file(item: int, ending: str) -> tuple[str, bytes]:
    """Return a piece in stock as a file and its name, upright and in metres, with what came with it; several files come as one zip."""
    with transaction() as connection:
        card = items.get_item(connection, item)
        if card.kind != "piece":
            raise InputError(what="only pieces are written as files", where=card.name, todo="Choose a piece.")
        model = get_model(connection, card.source)
    files = write_model(receive(model, Receive(mends=()), STATURE).brought, ending, slug(card.name))
    return (f"{slug(card.name)}.zip", zipped(files)) if len(files) > 1 else next(iter(files.items()))
