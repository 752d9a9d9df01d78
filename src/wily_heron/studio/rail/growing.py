"""Pieces grown from a wearer's skin."""

from collections.abc import Sequence

from ...core.bench.recipe import Recipe
from ...core.model.model import Model
from ...core.model.steps.bind import Bind
from ...core.model.steps.follow import Follow
from ...core.model.steps.receive import MadeFor, Place, Receive
from ...core.work.grow import READY, Growth, grow, region_names
from ...store.blobs.models import put_model
from ...store.db import transaction
from ...store.productions.bodies import carrier_of
from ...store.productions.wearers import get_wearer
from ...store.rail import pieces as store
from ...store.rail.pieces import PieceRow
from .. import work
from ..desk import Desk
from ..wearer import wearer_as

_REACH = 0.03
"""How far (metres) from the skin it is bound: it lies at its ease already."""


def what_can_be_grown() -> dict[str, Sequence[str]]:
    """Return the regions of the body under `regions`, and the ready choices by name."""
    plain = sorted({n.removeprefix("l_").removeprefix("r_") for n in region_names()})
    return {"regions": plain, **READY}


def grow_piece(desk: Desk, wearer: int, name: str, growth: Growth) -> PieceRow:
    """Grow a piece from a wearer's skin and put it on the rail, made for that wearer."""
    with transaction() as connection:
        who = get_wearer(connection, wearer)
    body = who.body or ""
    mesh = grow(wearer_as(body, who.shape), growth, carrier_of(body, who.shape) if body else None)
    whose = MadeFor(name=who.name, body=body, shape=who.shape)
    received = Receive(unit="m", up="y", hand="right", facing="front", mends=(), made_for=whose)
    recipe = Recipe(body=body, made_on=who.shape, steps=(received, Place(), Bind(reach=_REACH), Follow()))
    with transaction() as connection:
        sha = put_model(connection, Model(mesh))
        piece, edit = store.add_piece(connection, desk.production, name, "suit", f"{name} (grown)", sha, recipe, desk.artist, who.outfit)
        made = store.get_piece(connection, piece)
    desk.ask(work.evaluate(edit))
    return made
