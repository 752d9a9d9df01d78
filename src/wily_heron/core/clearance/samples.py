"""Points inside triangles at which surfaces are asked what they show."""

import numpy as np

SPLIT = np.array([[4, 1, 1], [1, 4, 1], [1, 1, 4], [2, 2, 2], [3, 3, 0], [0, 3, 3], [3, 0, 3]]) / 6.0
"""Seven points of a triangle, each standing for a seventh of it."""


def _middles(times: int) -> np.ndarray:
    """Return the middles (s, 3) of the triangles that halving one so many `times` makes."""
    n = 2**times
    up = [(3 * i + 1, 3 * j + 1) for i in range(n) for j in range(n - i)]
    down = [(3 * i + 2, 3 * j + 2) for i in range(n - 1) for j in range(n - 1 - i)]
    return np.array([(i, j, 3 * n - i - j) for i, j in up + down]) / (3.0 * n)


FINE, FINEST = _middles(2), _middles(3)
"""Sixteen points, and sixty-four."""


def inside(corner: np.ndarray, where: np.ndarray = SPLIT) -> np.ndarray:
    """Return `(s t, 3)` values at the places `where` (s, 3) of triangles from those at their corners (t, 3, 3)."""
    return np.matmul(where, corner).reshape(-1, 3)


def face_normals(corner: np.ndarray) -> np.ndarray:
    """Return the unit normals (t, 3) of triangles by their corners (t, 3, 3)."""
    return unit(np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]))


def unit(vectors: np.ndarray) -> np.ndarray:
    """Return vectors (n, 3) made unit length; none stay none."""
    return vectors / np.maximum(np.linalg.norm(vectors, axis=1, keepdims=True), 1e-12)
