"""Putting what is in stock on the rail: in its colours, on a wearer's body."""

from ..core.bench.recipe import Recipe
from ..core.model.colourway import Surface, recoloured
from ..core.model.model import Model
from ..core.model.steps.bind import Bind
from ..core.model.steps.follow import Follow
from ..core.model.steps.receive import MadeFor, Receive
from ..formats.textures import read_texture
from ..store import pieces, stock, stock_order
from ..store.db import Connection, get_blob, run
from ..store.models import get_model, put_model


def hang(connection: Connection, item: int, production: int, wearer: dict | None, colourway: str | None, author: str) -> tuple[int, int]:
    """Put a piece in stock on the rail of a wearer's body; return the piece and its first edit.

    Where the body it was made for is the wearer's, it keeps its place and weights; else the recipe begins with receiving alone.
    """
    card = stock.item(connection, item)
    sha = in_colours(connection, item, card["source_sha"], colourway)
    body = (wearer or {}).get("body_sha") or ""
    made_on = (wearer or {}).get("shape") or {}
    steps: tuple = (Receive(),)
    if card["made_for"] and card["made_for"] == body:
        model = get_model(connection, sha)
        whose = MadeFor(name=(wearer or {}).get("name", "its own body"), body=body)
        weights = Bind(source="own") if model.skin is not None else Bind()
        steps = (Receive(unit="m", up="y", hand="right", facing="front", made_for=whose), weights, Follow())
    elif card["made_for"]:
        whose = MadeFor(name="the body it was made for", body=card["made_for"])
        steps = (Receive(unit="m", up="y", hand="right", facing="front", made_for=whose),)
    piece, edit = pieces.add_piece(connection, production, card["name"], card["category"], card["file_name"], sha,
                                   Recipe(body=body, made_on=made_on, steps=steps), author)
    run(connection, "from_stock", piece=piece, item=item)
    run(connection, "wear_colourway", piece=piece, name=colourway)
    return piece, edit


def in_colours(connection: Connection, item: int, source: str, colourway: str | None) -> str:
    """Return the address of a model in a colourway of its card, or as it came."""
    if colourway is None:
        return source
    return put_model(connection, coloured_model(connection, source, stock_order.colourway(connection, item, colourway)))


def coloured_model(connection: Connection, source: str, materials: dict) -> Model:
    """Return the model at `source` with `materials` (see `SurfaceIO`) put on."""
    surfaces = {}
    for name, m in materials.items():
        texture = None
        if m.get("texture"):
            texture = read_texture(get_blob(connection, m["texture"]), f"{m.get('fabric') or name} {m['texture'][:6]}")
        r, g, b = m["colour"]
        surfaces[name] = Surface((r, g, b), m["roughness"], m["metal"], texture)
    return recoloured(get_model(connection, source), surfaces)
