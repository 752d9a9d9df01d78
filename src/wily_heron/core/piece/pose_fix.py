"""Correctives for poses: made by clearing or by hand in a pose, kept at rest, coming in with that pose."""

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from ..clearance.clear import clear
from ..clearance.clear_cells import Cell as ShapeInPose
from ..clearance.clear_cells import measure_cells, no_worse
from ..figure.body import Body, Wearer, shape_values, shaped
from ..figure.own_poses import pose_for
from ..figure.pose import Pose, pose_matrices, posed_body
from ..figure.skinning import blended_linear
from ..follow.correctives import Corrective, PoseSpace, relevant_joints
from ..hand.strokes import Stroking
from ..space.tree import TriangleTree
from .adjusters import adjusted, adjusters
from .clearance_over import Under
from .recipe import Fix
from .state import Piece
from .worn import piece_matrices, worn_points


def with_fix(piece: Piece, body: Body, pose: Pose, move: np.ndarray, name: str) -> Piece:
    """Return the piece with a corrective that moves it by `move` (n, 3) metres at rest when `pose` is taken; one there already for the
    pose gains it. Rigid parts move whole."""
    assert piece.skin is not None
    move = np.asarray(move, np.float32).copy()
    if piece.riders is not None:
        of = np.where(piece.skin.joints[:, 0] >= piece.riders.first, piece.skin.joints[:, 0] - piece.riders.first, -1)
        for r in range(len(piece.riders.places)):
            move[of == r] = move[of == r].mean(axis=0)
    kept = {n: dict(zip(piece.examples.joints, t, strict=True)) for n, t in zip(piece.examples.names, piece.examples.turns, strict=True)
            } if piece.examples is not None else {}
    space = PoseSpace.of({**kept, pose.name: pose.rotations}, relevant_joints(shaped(body, body.made_at).skeleton, piece.skin))
    fixes = np.zeros((0, *move.shape), np.float32) if piece.fixes is None else piece.fixes
    own = next((i for i, c in enumerate(piece.correctives) if c.pose == pose.name and not c.shapes), -1)
    if own >= 0:
        fixes = fixes.copy()
        fixes[own] += move
        return replace(piece, fixes=fixes, examples=space)
    return replace(piece, correctives=(*piece.correctives, Corrective(name, (), pose.name)), fixes=np.concatenate([fixes, move[None]]),
                   examples=space)


def fixed(state: Piece, body: Body, step: Fix, here: Callable[[], np.ndarray]) -> Piece:
    """Return the piece with a corrective made by hand: strokes on it as it is posed, adjusters as they act at rest."""
    pose = pose_for(step.cell.pose, step.cell.rotations)
    wearer = shaped(body, shape_values(body, step.cell.shape))
    assert state.skin is not None
    matrices = pose_matrices(wearer, pose)
    posed = worn_points(state, wearer, pose, matrices).astype(np.float64)
    rows = state.mesh.received if state.mesh.received is not None else np.arange(len(posed))
    hand = Stroking(posed, state.mesh.triangles, rows, posed_under(wearer, pose), state.protect)
    lost = 0
    for stroke in step.strokes:
        lost += hand.apply(stroke)[1]
    linear = blended_linear(state.skin, piece_matrices(state, wearer, pose, matrices))
    move = np.linalg.solve(linear, (hand.points - posed)[:, :, None])[:, :, 0]
    unknown: list[str] = []
    if step.values:
        points, unknown = adjusted(state.mesh.points, adjusters(state.mesh.points, state.mesh.triangles, here()), step.values)
        move = move + points - state.mesh.points
    made = with_fix(state, body, pose, move, pose.label)
    told = {"pose": pose.name, "lost": lost, "unknown": unknown, "moved": float(np.linalg.norm(move, axis=1).max(initial=0.0))}
    return replace(made, report={**state.report, "fix": [*state.report.get("fix", []), told]})


def posed_under(wearer: Wearer, pose: Pose) -> Under:
    """Return the wearer's skin in a pose, ready to be measured from."""
    return Under(TriangleTree(posed_body(wearer, pose), wearer.body.triangles))


def clear_poses(piece: Piece, body: Body, cells: Sequence[ShapeInPose], ease: float) -> tuple[Piece, list[dict]]:
    """Return the piece with a corrective for the pose of each cell that fails, and a report per cell.

    Each is kept only if its cell gets better and no other cell of those given worse.
    """
    figures = measure_cells(piece, body, cells)
    brief = lambda f: {k: f[k] for k in ("clearance_mm", "area_cm2", "places")}  # noqa: E731
    reports = [{"kept": f["places"] == 0, "before": brief(f), "moved": 0, "greatest_move": 0.0} for f in figures]
    for i in sorted(range(len(cells)), key=lambda k: -figures[k]["area_cm2"]):
        if figures[i]["places"] == 0:
            continue
        shape, pose = cells[i]
        eased, report = clear(piece, body, shape, pose, ease)
        if not report["kept"]:
            continue
        made = with_fix(piece, body, pose, eased.mesh.points - piece.mesh.points, pose.label)
        now = measure_cells(made, body, cells)
        if no_worse(figures, now, i):
            piece, figures = made, now
            reports[i] |= {k: report[k] for k in ("kept", "moved", "greatest_move")}
    return piece, [r | {"after": brief(f)} for r, f in zip(reports, figures, strict=True)]
