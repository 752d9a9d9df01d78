"""Linear blend skinning."""

import numpy as np
from numba import njit, prange

from .skeleton import Skin


@njit(cache=True, nogil=True, inline="always")
def _blended(i, x, y, z, joints, weights, matrices):
    a = b = c = 0.0
    for k in range(joints.shape[1]):
        w = weights[i, k]
        if w == 0.0:
            continue
        m = matrices[joints[i, k]]
        a += w * (m[0, 0] * x + m[0, 1] * y + m[0, 2] * z + m[0, 3])
        b += w * (m[1, 0] * x + m[1, 1] * y + m[1, 2] * z + m[1, 3])
        c += w * (m[2, 0] * x + m[2, 1] * y + m[2, 2] * z + m[2, 3])
    return a, b, c


@njit(cache=True, nogil=True)
def blend(points, joints, weights, matrices, out):
    """Fill `out` (n, 3) with `points` (n, 3) blended by their joints' skin matrices (j, 4, 4)."""
    for i in range(points.shape[0]):
        out[i, 0], out[i, 1], out[i, 2] = _blended(i, points[i, 0], points[i, 1], points[i, 2], joints, weights, matrices)


@njit(cache=True, nogil=True, parallel=True)
def blend_rows(rows, points, deltas, used, values, joints, weights, matrices, out):
    """Fill `out` (k, 3) with the `rows` (k,) of `points` (n, 3), moved by the shapes `used` (u,) of `deltas` (s, n, 3) times their
    `values` (u,), blended as `blend` does."""
    for part in prange(2):
        for r in range(part * len(rows) // 2, (part + 1) * len(rows) // 2):
            i = rows[r]
            x, y, z = points[i, 0], points[i, 1], points[i, 2]
            for s in range(len(used)):
                x += values[s] * deltas[used[s], i, 0]
                y += values[s] * deltas[used[s], i, 1]
                z += values[s] * deltas[used[s], i, 2]
            out[r, 0], out[r, 1], out[r, 2] = _blended(i, x, y, z, joints, weights, matrices)


def skin_points(points: np.ndarray, skin: Skin, matrices: np.ndarray) -> np.ndarray:
    """Return `points` (n, 3) blended by `skin` with skin matrices (j, 4, 4); float32 in, float32 out.

    Args:
        points: (n, 3) float, metres.
        skin: (n, k) joints and weights.
        matrices: (j, 4, 4) skin matrices of the pose.

    >>> up = np.tile(np.eye(4), (2, 1, 1))
    >>> up[1, 1, 3] = 1.0  # the second joint goes up by a metre
    >>> half = Skin(np.array([[0, 1]], np.int32), np.array([[0.5, 0.5]], np.float32))
    >>> skin_points(np.zeros((1, 3), np.float32), half, up).tolist()
    [[0.0, 0.5, 0.0]]
    """
    out = np.empty((len(points), 3), np.float32)
    blend(np.ascontiguousarray(points, np.float32), skin.joints, skin.weights, matrices, out)
    return out


@njit(cache=True, nogil=True)
def _blended_linear(joints, weights, matrices, out):
    for i in range(joints.shape[0]):
        for a in range(3):
            for b in range(3):
                s = 0.0
                for k in range(joints.shape[1]):
                    s += weights[i, k] * matrices[joints[i, k], a, b]
                out[i, a, b] = s


def blended_linear(skin: Skin, matrices: np.ndarray) -> np.ndarray:
    """Return the linear part `(n, 3, 3)` of each vertex's blended matrix: what carries a rest-space move into the pose.

    Args:
        skin: (n, k) joints and weights.
        matrices: (j, 4, 4) skin matrices of the pose.

    >>> from ..figure import figure
    >>> skin = figure(1).skin
    >>> still = np.tile(np.eye(4), (len(figure(1).skeleton.names), 1, 1))
    >>> bool(np.allclose(blended_linear(skin, still), np.eye(3), atol=1e-6))
    True
    """
    out = np.empty((len(skin.joints), 3, 3))
    _blended_linear(skin.joints, skin.weights, matrices, out)
    return out


def strongest(dense: np.ndarray, count: int = 4) -> Skin:
    """Return the `count` greatest weights of each row of `dense` (n, j), renormalised to sum 1.

    Args:
        dense: (n, j) weights of all joints.
        count: How many joints a vertex keeps.

    >>> skin = strongest(np.array([[0.1, 0.6, 0.0, 0.3]]), count=2)
    >>> skin.joints.tolist(), [round(float(w), 4) for w in skin.weights[0]]
    ([[1, 3]], [0.6667, 0.3333])
    """
    joints = np.argpartition(-dense, count, axis=1)[:, :count]
    weights = np.take_along_axis(dense, joints, axis=1)
    order = np.argsort(-weights, axis=1, kind="stable")
    joints = np.take_along_axis(joints, order, axis=1)
    weights = np.maximum(np.take_along_axis(weights, order, axis=1), 0.0)
    weights[weights < 1e-4] = 0.0
    weights /= weights.sum(axis=1, keepdims=True)
    joints[weights == 0.0] = 0
    return Skin(np.ascontiguousarray(joints, np.int32), np.ascontiguousarray(weights, np.float32))
