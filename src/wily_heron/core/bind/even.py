"""Weights evened out where cloth would stretch more than the skin under it."""

import numpy as np

from ..figure.base.body import Wearer
from ..figure.base.pose_types import Pose
from ..figure.base.skeleton import skin_matrices, world_matrices
from ..mesh.edges import unique_edges
from ..motion.ranges import joint_turn, swings
from ..motion.retarget import rotations_on
from ..space.tree import Nearest
from .transfer import inpaint, shares
from .weight_kernels import gather, keep_greatest, posed_stretch

_MORE = 1.15
"""An edge may stretch this many times as much as the skin right under it does, and as the skin under the piece does at its worst."""
_MORE_AT_HIPS = 1.3
"""The same about the hips: drawn tighter there, what rests close on the groin comes through it in a kneel."""
_WIDTHS = (0.016, 0.016)
"""How far about a place that stretches too much weights are solved anew, metres, in turn while it does; wider, and armpits show."""
_Shares = dict[str, tuple[float, float, float]]
_UP: _Shares = {"shoulder": (0.0, 0.8, 0.0), "hip": (-0.8, 0.3, 0.0)}
_DOWN: _Shares = {"shoulder": (0.0, -0.8, 0.0), "hip": (0.8, 0.0, 0.0)}
_SPREAD: _Shares = {"shoulder": (-0.8, 0.0, 0.0), "hip": (0.0, 0.9, 0.0)}
_BACK: _Shares = {"shoulder": (0.8, 0.4, 0.6), "hip": (-0.7, -0.5, 0.5)}
_EXERCISES: tuple[tuple[_Shares, _Shares], ...] = (
    (_UP, _DOWN),
    (_DOWN, _UP),
    (_SPREAD, _SPREAD),
    (_BACK, _BACK),
)
"""What the left and the right shoulder and hip do to try a piece: shares of each way of their range, below nothing towards its low end."""


def exercises() -> list[Pose]:
    """Return the poses a piece is tried in.

    >>> len(exercises()) > 3 and all(pose.rotations for pose in exercises())
    True
    """
    out = []
    for k, both in enumerate(_EXERCISES):
        turns = {}
        for side, joints in zip(("l_", "r_"), both, strict=True):
            for name, parts in joints.items():
                angles = [s * (w.high if s > 0 else -w.low) for s, w in zip(parts, swings(name), strict=True)]
                turns[side + name] = joint_turn(side + name, np.array(angles))
        out.append(Pose(f"exercise-{k}", "", "exercise", turns))
    return out


def evened(points: np.ndarray, triangles: np.ndarray, wearer: Wearer, near: Nearest, dense: np.ndarray, fitted: np.ndarray) -> np.ndarray:
    """Return weights `(n, j)` solved anew about the edges of what is `fitted` (n,) that stretch more than the skin `near` them does.

    Tried in `exercises`.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        wearer: The body in its shape, at rest.
        near: The nearest skin of each vertex.
        dense: (n, j) weights of all joints.
        fitted: (n,) bool, the vertices that lie on the skin.
    """
    edges, _ = unique_edges(triangles)
    skeleton, like = wearer.skeleton, wearer.body.posed_like
    matrices = [skin_matrices(skeleton, world_matrices(skeleton, rotations_on(p, skeleton, like))) for p in exercises()
                if set(p.rotations) <= set(skeleton.names)]
    here = edges[fitted[edges].all(axis=1)]
    if not len(here) or not matrices:
        return dense
    corners, turns = wearer.body.triangles[near.triangle], np.stack(matrices)
    under = np.zeros_like(dense)
    gather(np.arange(len(points)), corners, near.where, wearer.body.skin.joints, wearer.body.skin.weights, under)
    skin = _stretch(np.einsum("nk,nka->na", near.where, wearer.points[corners]), here, under, turns)
    hip = wearer.skeleton.some(("l_hip", "l_hip_twist", "r_hip", "r_hip_twist"))
    more = np.where(under[:, hip].sum(axis=1)[here].max(axis=1) > 0.02, _MORE_AT_HIPS, _MORE)
    most = more * np.maximum(np.quantile(skin, 0.999, axis=1)[:, None], skin)
    side = float(np.median(np.linalg.norm(points[here[:, 0]] - points[here[:, 1]], axis=1)))
    for width in _WIDTHS:
        bad = (_stretch(points, here, dense, turns) > most).any(axis=0)
        if not bad.any():
            break
        anew = np.zeros(len(points), bool)
        anew[here[bad].ravel()] = True
        for _ in range(max(1, round(width / side))):
            anew[edges[anew[edges].any(axis=1)].ravel()] = True
        solved = inpaint(points, triangles, ~anew, dense)
        solved[anew] = shares(solved[anew], dense[anew])
        dense = solved
    return dense


def _stretch(points: np.ndarray, edges: np.ndarray, dense: np.ndarray, matrices: np.ndarray) -> np.ndarray:
    """Return how many times its length each edge is in each of the poses (p, e), given by their skin matrices (p, j, 4, 4)."""
    joints, weights = np.empty((len(points), 4), np.int32), np.empty((len(points), 4), np.float32)
    keep_greatest(dense, 4, joints, weights)
    out = np.empty((len(matrices), len(edges)), np.float32)
    posed_stretch(np.ascontiguousarray(points, np.float64), joints, weights, matrices, edges, out)
    return out
