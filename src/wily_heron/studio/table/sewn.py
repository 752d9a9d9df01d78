"""What is sewn from a layout: what it is sewn on and over, and the garment kept on the rail as it hangs."""

from dataclasses import dataclass

import numpy as np

from ...core.bench.recipe import Recipe
from ...core.figure.base.body import Wearer
from ...core.mesh.mesh import Mesh
from ...core.model.model import Model
from ...core.model.state import Piece
from ...core.model.steps.bind import Bind
from ...core.model.steps.fit import Fit
from ...core.model.steps.follow import Follow
from ...core.model.steps.receive import MadeFor, Place, Receive
from ...core.model.worn import at_rest
from ...store import layouts as layout_store
from ...store.blobs.models import put_model
from ...store.db import Connection, transaction
from ...store.layouts import LayoutRow
from ...store.productions.wearers import WearerRow
from ...store.rail import pieces
from ...store.rail.pieces import MadeRow, piece_at, rail_of
from .. import work
from ..desk import Desk
from ..worn import Rail, worn
from .layouts import wearer_on

_CATEGORY = {"skirt": "bottom", "trousers": "bottom", "hood": "headwear"}
_KEPT = (Receive, Place, Fit, Bind, Follow)


@dataclass(frozen=True)
class Bench:
    """What panels are sewn on: the layout, the wearer, and the pieces under them as they lie there (points (n, 3), triangles (m, 3))."""

    layout: LayoutRow
    who: WearerRow
    wearer: Wearer
    pieces: list[Piece]
    under: list[tuple[np.ndarray, np.ndarray]]


def prepare(layout: int, wearer: int, over: bool) -> Bench:
    """Return what the panels of a layout are sewn on, `over` what hangs on the rail or not."""
    with transaction() as connection:
        row = layout_store.get_layout(connection, layout)
        who, on = wearer_on(connection, wearer)
        rail = worn(rail_of(connection, who.production), Rail(who.outfit, None)) if over else []
    under = [piece_at(sha) for name, sha in rail if not name.startswith(row.name)]  # no garment is worn over itself
    return Bench(row, who, on, under, [(at_rest(p, on).astype(np.float64), p.mesh.triangles) for p in under])


def hung_from(bench: Bench) -> MadeRow | None:
    """Return the piece on the rail that was sewn from these panels for this wearer, if there is one."""
    with transaction() as connection:
        return _hung_from(connection, bench)


def keep(desk: Desk, bench: Bench, sewn: Mesh, anew: bool) -> int:
    """Put the garment on the rail as it hangs now, made for its wearer, or `anew` on the piece that hangs there; return that.

    What was done to that piece by its vertices is left out: they are others now. To undo brings it all back.
    """
    name, who = bench.layout.name, bench.who
    whose = MadeFor(name=who.name, body="", shape=who.shape)
    received = Receive(unit="m", up="y", hand="right", facing="front", mends=(), made_for=whose)
    with transaction() as connection:
        sha, hung = put_model(connection, Model(sewn)), _hung_from(connection, bench) if anew else None
        if hung:
            piece = hung.id
            recipe = hung.recipe.model_copy(update={"steps": tuple(s for s in hung.recipe.steps if isinstance(s, _KEPT))})
            edit = pieces.change_recipe(connection, piece, recipe, f"Cut {name} anew", desk.artist, None, sha)
        else:
            recipe = Recipe(made_on=who.shape, steps=(received, Place(), Bind(), Follow()))
            category = _CATEGORY.get(bench.layout.layout.block, "top")
            piece, edit = pieces.add_piece(connection, desk.production, name, category, f"{name} (sewn)", sha, recipe, desk.artist,
                                          bench.who.outfit)
            pieces.set_sewn_from(connection, piece, bench.layout.id)
    desk.ask(work.evaluate(edit))
    return piece


def _hung_from(connection: Connection, bench: Bench) -> MadeRow | None:
    made = pieces.sewn_from(connection, bench.layout.id)
    return next((m for m in made if (m.recipe.body, m.recipe.made_on) == ("", bench.who.shape)), None)
