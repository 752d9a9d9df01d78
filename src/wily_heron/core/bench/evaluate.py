"""Running a recipe: pure steps `(state, wearer, alteration) -> state`, remembered by the hash of all that led there."""

import hashlib
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np

from ..figure.base.body import Body, Wearer, shape_values, shaped
from ..figure.figure import figure
from ..memo import Memo
from ..model.model import Model
from ..model.state import Piece
from ..model.steps.alteration import Alteration
from .recipe import BY_KIND, Recipe, check_order
from .step import CarrierOf, Context, LayerOf, figure_carrier, no_layers

_MEMO: Memo[Piece] = Memo("steps of pieces", 512 * 2**20)


@dataclass(frozen=True)
class Source:
    """A received model under its content hash, which names it in the memo."""

    model: Model
    digest: str


def evaluate(source: Source, recipe: Recipe, body: Body, carrier_of: CarrierOf = figure_carrier,
             layer_of: LayerOf = no_layers, after: Callable[[Piece], None] = lambda _: None) -> Piece:
    """Return the piece after all steps of `recipe` on `body`. Steps whose past has not changed are not run again.

    `carrier_of` leads from one body to another, for pieces made for other bodies than this; `after` is told the piece after each step.

    Raises `InputError` for steps out of order and for what a step itself finds wrong.
    """
    check_order(recipe)
    made_on = shape_values(body, recipe.made_on)
    wearer = shaped(body, made_on)
    state = Piece.of(source.model, made_on)
    digest = hashlib.sha256(f"{source.digest}|{recipe.body}|{made_on.tolist()}".encode())
    here = partial(carrier_of, recipe.body, recipe.made_on)
    for step in recipe.steps:
        digest.update(step.model_dump_json().encode())
        state = _MEMO.of(digest.hexdigest(), partial(run_step, state, wearer, step, here, carrier_of, layer_of))
        after(state)
    return state


def run_step(state: Piece, wearer: Wearer, step: Alteration, here: Callable[[], np.ndarray] | None = None,
             carrier_of: CarrierOf = figure_carrier, layer_of: LayerOf = no_layers) -> Piece:
    """Return the state after one step; its report gains what the step found. `here` gives the carrier of this wearer."""
    context = Context(wearer, here or (lambda: wearer.points[: len(figure(1).base)]), carrier_of, layer_of)
    made, found = BY_KIND[step.kind].run(state, context, step)
    return made.reporting(found)
