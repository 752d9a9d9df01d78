"""Colourways: the same piece in other materials."""

from collections.abc import Mapping

from ...core.errors import InputError
from ...core.model.colourway import Surface, recoloured
from ...core.model.model import Model
from ...formats.images.textures import read_texture
from ...store.blobs.models import get_model, put_model, texture_addresses
from ...store.db import Connection, get_blob, transaction
from ...store.rail import pieces
from ...store.rail.pieces import PieceRow
from ...store.stock import items, order
from ...store.stock.order import Cloth, ColourwayRow
from .. import work
from ..desk import Desk


def colourways(item: int) -> tuple[dict[str, Cloth], list[ColourwayRow]]:
    """Return a piece's own materials by name, and its colourways."""
    with transaction() as connection:
        source = items.get_item(connection, item).source
        model, held = get_model(connection, source), texture_addresses(connection, source)
        ways = order.colourways(connection, item)
    return {m.name: Cloth(colour=m.colour, roughness=m.roughness, metal=m.metal, texture=held.get(m.colour_map or ""))
            for m in model.mesh.materials}, ways


def put(desk: Desk, item: int, name: str, materials: Mapping[str, Cloth]) -> None:
    """Keep a colourway; pieces that wear it take it on. Raises `InputError` for a material that the piece does not have."""
    name = name.strip()
    if not 0 < len(name) <= 40:
        raise InputError(what="its name has no letters or more than 40", where="the colourway", todo="Give it a short name.")
    with transaction() as connection:
        source = items.get_item(connection, item).source
        _coloured(connection, source, materials)
        order.put_colourway(connection, item, name, materials)
        edits = [_wear(connection, desk, piece.id, item, source, name) for piece in pieces.made_from_stock(connection, item)
                 if piece.colourway == name]
    for edit in edits:
        desk.ask(work.evaluate_of_stock(edit))


def drop(item: int, name: str) -> None:
    """Forget a colourway. Raises `InputError` while a piece wears it, `NotFound` if there is none."""
    with transaction() as connection:
        if any(piece.colourway == name for piece in pieces.made_from_stock(connection, item)):
            raise InputError(what="a piece on the rail wears it", where=f"the colourway {name}", todo="Give that piece another first.")
        order.drop_colourway(connection, item, name)


def wear(desk: Desk, piece: int, name: str | None) -> PieceRow:
    """Put a piece on the rail in a colourway of its card, or in its own materials again."""
    with transaction() as connection:
        item = pieces.get_piece(connection, piece).stock
        if item is None:
            raise InputError(what="it did not come from stock", where="the colourway", todo="Take it into stock first.")
        edit = _wear(connection, desk, piece, item, items.get_item(connection, item).source, name)
        made = pieces.get_piece(connection, piece)
    desk.ask(work.evaluate_of_stock(edit))
    return made


def in_colours(connection: Connection, item: int, source: str, colourway: str | None) -> str:
    """Return the address of a model in a colourway of its card, or as it came."""
    if colourway is None:
        return source
    return put_model(connection, _coloured(connection, source, order.colourway(connection, item, colourway)))


def _wear(connection: Connection, desk: Desk, piece: int, item: int, source: str, name: str | None) -> int:
    pieces.set_colourway(connection, piece, name)
    recipe = pieces.get_piece(connection, piece).recipe
    return pieces.change_recipe(connection, piece, recipe, f"Colourway {name or 'as it came'}", desk.artist, None,
                                in_colours(connection, item, source, name))


def _coloured(connection: Connection, source: str, materials: Mapping[str, Cloth]) -> Model:
    surfaces: dict[str, Surface] = {}
    for name, m in materials.items():
        texture = None
        if m.texture:
            texture = read_texture(get_blob(connection, m.texture), f"{m.fabric or name} {m.texture[:6]}")
        surfaces[name] = Surface(m.colour, m.roughness, m.metal, texture)
    return recoloured(get_model(connection, source), surfaces)
