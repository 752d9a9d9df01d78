"""Running a recipe: pure steps `(state, wearer, alteration) -> state`, remembered by the hash of all that led there."""

import hashlib
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import partial
from itertools import pairwise

import numpy as np

from ..clear.cleared_piece import cleared
from ..clear.pose_fix import fixed
from ..errors import InputError
from ..figure.base.body import Body, Wearer, shape_values, shaped
from ..figure.figure import figure
from ..fit.fit import fit
from ..fit.fit_paint import painted, rigid_parts
from ..fit.skin_under import under_of
from ..fit.target import FitTarget
from ..follow.bound_piece import bound_piece, following_piece, weighed
from ..memo import Memo
from ..mesh.ops.subset import turned_over
from ..model.category import ENCLOSING
from ..model.model import Model
from ..model.state import Piece
from ..model.steps.recipe import (
    AGAIN,
    ORDER,
    Alteration,
    Bind,
    Clear,
    Drape,
    Fit,
    Fix,
    Follow,
    Hide,
    MendWeights,
    Place,
    Receive,
    Recipe,
    Weigh,
    place_in_order,
)
from ..receive.place import place
from ..receive.receive import receive
from ..work.work import work
from .draped_piece import draped

_MEMO: Memo[Piece] = Memo("steps of pieces", 512 * 2**20)


@dataclass(frozen=True)
class Source:
    """A received model under its content hash, which names it in the memo."""

    model: Model
    digest: str


CarrierOf = Callable[[str, Mapping[str, float]], np.ndarray]
"""Where our level-1 figure's vertices (n, 3) lie on a body, by its address ("" for the figure) and shape settings."""


LayerOf = Callable[[str], Piece]
"""The piece stored under an address: what another rests on and takes weights from."""


def no_layers(address: str) -> Piece:
    """Raise `InputError`: no other pieces are at hand."""
    raise InputError(what="the piece it is to rest on is not at hand", where="the fit step", todo="Let it rest on the skin.")


def figure_carrier(body: str, settings: Mapping[str, float]) -> np.ndarray:
    """Return our own figure at `settings`; raises `InputError` for any other body."""
    if body:
        raise InputError(what="that body is not at hand", where="the body it was made for", todo="Choose another, or none.")
    own = figure(1)
    return shaped(own, shape_values(own, settings)).points


def evaluate(source: Source, recipe: Recipe, body: Body, carrier_of: CarrierOf = figure_carrier,
             layer_of: LayerOf = no_layers) -> Piece:
    """Return the piece after all steps of `recipe` on `body`. Steps whose past has not changed are not run again.

    `carrier_of` leads from one body to another, for pieces made for other bodies than this.

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
    return state


def check_order(recipe: Recipe) -> None:
    """Raise `InputError` unless the steps stand in working order, each kind once (work and clear may be repeated)."""
    places = [place_in_order(step.kind) for step in recipe.steps]
    for before, after in pairwise(places):
        if after < before or (after == before and ORDER[after] not in AGAIN):
            raise InputError(what=f"the step '{ORDER[after]}' cannot come after '{ORDER[before]}'", where="the recipe",
                             todo=f"Keep the working order: {', '.join(ORDER)}.")
    needs = next((p for p in places if p > ORDER.index("bind")), None)
    if needs is not None and ORDER.index("bind") not in places:
        raise InputError(what="the piece is not bound yet", where=f"the {ORDER[needs]} step", todo="Bind it first.")


def run_step(state: Piece, wearer: Wearer, step: Alteration, here: Callable[[], np.ndarray] | None = None,
             carrier_of: CarrierOf = figure_carrier, layer_of: LayerOf = no_layers) -> Piece:
    """Return the state after one step; `report` gains what the step found. `here` gives the carrier of this wearer."""
    mesh, body = state.mesh, wearer.body
    carrier = here or (lambda: wearer.points[: len(figure(1).base)])
    match step:
        case Receive():
            got = receive(state.brought or Model(mesh), step, float(wearer.points[:, 1].max()))
            return _after(state, step, got.found, mesh=got.mesh, brought=got.brought, made_for=step.made_for)
        case Place():
            points = place(mesh.points, step)
            placed = turned_over(mesh, np.ones(len(mesh.triangles), bool)) if step.mirror else mesh
            return _after(state, step, {"moved": float(np.linalg.norm(step.move))}, mesh=placed.moved(points))
        case Fit():
            source = carrier_of(state.made_for.body, state.made_for.shape) if state.made_for is not None and step.ride else None
            own = wearer.shape if body.shapes == figure(1).shapes else figure(1).made_at
            layers = [(layer.mesh.points, layer.mesh.triangles) for layer in map(layer_of, step.over)]
            encloses = state.report.get("receive", {}).get("category") in ENCLOSING
            stand = FitTarget(under_of(wearer).with_layers(layers), carrier(), own, source, encloses)
            got = fit(mesh.points, mesh.triangles, stand, step, painted(mesh, step), rigid_parts(mesh, step))
            ridden = state.made_for.name if source is not None and state.made_for is not None else None
            return _after(state, step, {**got.report, "made_for": ridden}, mesh=mesh.moved(got.points), trouble=got.trouble)
        case Bind():
            bound = bound_piece(state, wearer, step, [layer_of(sha) for sha in step.over])
            return _after(state, step, bound.report, skin=bound.skin, riders=bound.riders)
        case Weigh() | MendWeights():
            return weighed(state, wearer, step)
        case Follow():
            return _after(*following_piece(state, wearer, step, [layer_of(sha) for sha in step.over]))
        case Fix():
            return fixed(state, body, step, carrier)
        case Drape():
            return draped(state, body, step, layer_of)
        case Clear() | Hide():
            return cleared(state, body, step, layer_of)
        case _:
            return work(state, wearer, step, carrier)


def _after(state: Piece, step: Alteration, report: dict, **changes) -> Piece:
    return replace(state, report={**state.report, step.kind: report}, **changes)
