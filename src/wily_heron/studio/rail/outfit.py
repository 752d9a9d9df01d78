"""Fitting the whole outfit: from the skin outwards, each piece resting on those under it."""

from ...core.bench.recipe import place_in_order
from ...core.model.steps.bind import Bind
from ...core.model.steps.fit import Fit
from ...core.model.steps.follow import Follow
from ...store.db import transaction
from ...store.rail import pieces as store
from ..desk import Desk
from ..worn import Rail, hangs_for
from .evaluating import evaluate_edit

_OVER = 0.003
"""The least ease (metres) of a piece over another."""


def fit_outfit(desk: Desk, outfit: int, body: str, ease: float) -> None:
    """Fit the pieces of an outfit that are made on a body, one after the other, at `ease` (metres) over the skin; each rests on those
    before it."""
    with transaction() as connection:
        rail = sorted(store.pieces_of(connection, desk.production), key=lambda piece: piece.rail)
    under: list[str] = []
    for piece in rail:
        recipe = piece.recipe
        if not hangs_for(piece, Rail(outfit, body)) or piece.status == "failed":
            continue
        kept = next((s for s in recipe.steps if isinstance(s, Fit)), Fit())
        wanted = kept.model_copy(update={"ease": max(ease, _OVER) if under else ease, "over": tuple(under)})
        steps = [s for s in recipe.steps if place_in_order(s.kind) < place_in_order("fit")]
        later = [s.model_copy(update={"over": tuple(under)}) if isinstance(s, (Bind, Follow)) else s
                 for s in recipe.steps if place_in_order(s.kind) > place_in_order("fit")]
        with transaction() as connection:
            edit = store.change_recipe(connection, piece.id, recipe.model_copy(update={"steps": (*steps, wanted, *later)}),
                                       "Fit the outfit", desk.artist, None)
        stands = evaluate_edit(edit)
        if stands:
            under.append(stands)
