"""Wearers as the database tells of them."""

from collections.abc import Mapping

from ..core.errors import NotFound
from ..core.figure.base.body import Wearer, shape_values, shaped
from ..store.db import Connection
from ..store.productions.bodies import body_for
from ..store.productions.outfits import outfits_of
from ..store.productions.wearers import CastRow, cast_of
from .stage_cell import StageCell
from .worn import Rail


def wearer_as(body: str | None, shape: Mapping[str, float], level: int = 2) -> Wearer:
    """Return a body of one's own, or the house's figure at `level`, in a shape."""
    base = body_for(body, shape, level)
    return shaped(base, shape_values(base, shape))


def rail_for(connection: Connection, production: int, cell: StageCell) -> Rail:
    """Return the rail that the cell on the stage is about: of its wearer, or of the first of the cast on its body."""
    cast = cast_of(connection, production)
    who = next((w for w in cast if w.id == cell.wearer), None) or next((w for w in cast if w.body == cell.body), None)
    return Rail(who.outfit if who else outfits_of(connection, production)[0].id, cell.body)


def one_of_the_cast(connection: Connection, production: int, wearer: int | None) -> CastRow | None:
    """Return a wearer of the production, the first if none is named, or None where there is no cast. Raises `NotFound` for another."""
    cast = cast_of(connection, production)
    if wearer is not None and all(w.id != wearer for w in cast):
        raise NotFound(what=f"there is no wearer {wearer}", where="the cast", todo="Choose one of the cast.")
    return next((w for w in cast if w.id == wearer), cast[0] if cast else None)
