"""The bind, weigh and follow steps on a piece as it stands."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from ..bind.bind import Bound, bind
from ..bind.carried import carried
from ..bind.check import check_weights, mended
from ..bind.own_weights import own_moves, own_skin
from ..bind.paint import painted_weights
from ..bind.striding import striding
from ..bind.transfer import Surface
from ..bind.worn_as import worn_as_of
from ..figure.base.body import Wearer
from ..figure.base.skeleton import Skin
from ..fit.skin_under import under_of
from ..model.state import Piece
from ..model.steps.bind import Bind, BindReport, MendWeights, Weigh, WeighReport
from ..model.steps.follow import Follow, FollowReport
from ..space.tree import TriangleTree
from .follow import follow


def bound_piece(state: Piece, wearer: Wearer, step: Bind, layers: Sequence[Piece]) -> Bound:
    """Return the piece's weights: from what lies under it, its own, or all on the joint that carries it; checked."""
    mesh = state.mesh
    if step.source == "joint":
        return carried(mesh.points, wearer, step)
    if step.source == "own":
        skin, report = own_skin(state, wearer.skeleton)
        bound = Bound(skin, None, report)
    else:
        under = [Surface(TriangleTree(layer.mesh.points, layer.mesh.triangles), on_skeleton(layer)) for layer in layers if layer.skin]
        worn = step.worn_as if step.worn_as != "auto" else worn_as_of(mesh.points, state.category or "top", wearer)
        rows = step.model_copy(update={"rigid": at_rows(state, step.rigid), "cloth": at_rows(state, step.cloth)})
        bound = bind(mesh.points, mesh.triangles, wearer, rows, under, worn, under_of(wearer).skin)
    found = check_weights(mesh.points, mesh.triangles, bound.skin, bound.riders, wearer)
    for _ in range(2 if step.source == "body" and step.how == "solve" else 0):
        if not any(f.kind == "jump" for f in found):
            break
        evened, _ = mended(mesh.points, mesh.triangles, bound.skin, bound.riders, wearer, ["jump"], set())
        bound = replace(bound, skin=evened)
        found = check_weights(mesh.points, mesh.triangles, evened, bound.riders, wearer)
    legs = striding(mesh.points, mesh.triangles, bound.skin, wearer) if bound.report.hangs else None
    return replace(bound, report=bound.report.model_copy(update={"findings": [f.report() for f in found], "legs": legs}))


def following_piece(state: Piece, wearer: Wearer, step: Follow, layers: Sequence[Piece] = ()) -> tuple[Piece, FollowReport]:
    """Return the piece with every shape of the wearer's body, kept off the `layers` under it, and what it came to."""
    skin = state.skin
    assert skin is not None
    bound = state.report_of(BindReport)
    carried_by = wearer.skeleton.index(bound.carried_by) if bound and bound.carried_by else -1
    got = follow(state.mesh.points, state.mesh.triangles, wearer, skin, state.riders, step, bound.worn_as if bound else "cloth", carried_by,
                 under_of(wearer).skin, layers)
    deltas, report = got.deltas, got.report
    if step.own:
        deltas, kept = own_moves(state, wearer.body.shapes, deltas)
        report = report.model_copy(update={"own": len(kept)})
    return replace(state, deltas=deltas, riders=got.riders, correctives=got.correctives, fixes=got.fixes), report


def weighed(state: Piece, wearer: Wearer, step: Weigh | MendWeights) -> tuple[Piece, WeighReport]:
    """Return the piece after a stroke of the weight brush, or after a mend of what checking found, and what that did."""
    mesh, skin = state.mesh, state.skin
    assert skin is not None
    if isinstance(step, Weigh):
        made, report = painted_weights(mesh, skin, state.riders, wearer, step)
    else:
        made, report = mended(mesh.points, mesh.triangles, skin, state.riders, wearer, step.kinds, set(at_rows(state, step.rows)))
    found = check_weights(mesh.points, mesh.triangles, made, state.riders, wearer)
    bound = state.report_of(BindReport)
    checked = state if bound is None else state.reporting(bound.model_copy(update={"findings": [f.report() for f in found]}))
    return replace(checked, skin=made), report


def at_rows(state: Piece, received: Sequence[int]) -> tuple[int, ...]:
    """Return the vertices that came from received rows."""
    rows = state.mesh.received
    if rows is None or not received:
        return tuple(received)
    return tuple(int(i) for i in np.flatnonzero(np.isin(rows, received)))


def on_skeleton(piece: Piece) -> Skin:
    """Return a piece's weights with its own riders replaced by the joint that carries the most of each."""
    skin, riders = piece.skin, piece.riders
    assert skin is not None
    if riders is None:
        return skin
    own = skin.joints >= riders.first
    return Skin(np.where(own, riders.main[np.maximum(skin.joints - riders.first, 0) % len(riders.main)], skin.joints).astype(np.int32),
                skin.weights)
