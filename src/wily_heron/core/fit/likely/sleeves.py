"""Where a piece's sleeves lead: how far the arms must swing for the bones to run through their middles."""

import numpy as np

from ...figure.figure import figure
from .freedom import free

_ROUND, _NEAR = 0.13, 0.12
_MAX_TURN = np.deg2rad(25.0)


def sleeve_angles(points: np.ndarray, joints: np.ndarray) -> np.ndarray:
    """Return the swings' angles (k,) in radians that lead each arm through the middle of the sleeve about it, 0 where there is none.

    `points` (n, 3) are the piece's, `joints` (j, 3) the level-1 figure's at rest. A sleeve is judged where it ends on the arm: a ring of
    points that goes round the bone or passes beside it. Follows the axis, not the surface, so an arm that pokes through its sleeve is
    brought back inside. Limits: one ring an arm, so the elbow keeps its bend; turns of more than 25 degrees are left to the search.
    """
    skeleton, may = figure(1).skeleton, free()
    angles = np.zeros(len(may.names))
    for side in ("l_", "r_"):
        shoulder, wrist = (joints[skeleton.index(side + name)] for name in ("shoulder", "radiocarpal"))
        bone = wrist - shoulder
        length = float(np.linalg.norm(bone))
        along = (points - shoulder) @ bone / length
        beside = np.linalg.norm(points - shoulder - along[:, None] * bone / length, axis=1)
        sleeve = (along > 0.45 * length) & (along < 1.1 * length) & (beside < _ROUND)
        if sleeve.sum() < 30:
            continue
        end = float(np.quantile(along[sleeve], 0.97))
        ring = sleeve & (along > end - 0.06)
        middle = _middle(points[ring], bone / length)
        at = shoulder + float((middle - shoulder) @ bone) / length**2 * bone
        if not ring.any() or np.linalg.norm(middle - at) > _NEAR:
            continue
        rows = [k for k, name in enumerate(may.names) if name.startswith(f"{side}shoulder")]
        moves = np.array([np.cross(may.axes[k], at - shoulder) for k in rows]).T
        turn = np.linalg.lstsq(moves, middle - at, rcond=None)[0]
        if np.abs(turn).max() < _MAX_TURN:
            angles[rows] = turn
    return angles


def _middle(points: np.ndarray, axis: np.ndarray) -> np.ndarray:
    """The middle of a ring's box across `axis`, which does not mind where its points are dense."""
    a = np.cross(axis, [0.0, 0.0, 1.0])
    a /= np.linalg.norm(a)
    b = np.cross(axis, a)
    across = points @ np.stack([a, b, axis], axis=1)
    box = (np.quantile(across, 0.02, axis=0) + np.quantile(across, 0.98, axis=0)) / 2
    return box @ np.stack([a, b, axis])
