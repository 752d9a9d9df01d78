"""Points inside triangles at which surfaces are asked what they show."""

import numpy as np

SPLIT = np.array([[4, 1, 1], [1, 4, 1], [1, 1, 4], [2, 2, 2], [3, 3, 0], [0, 3, 3], [3, 0, 3]]) / 6.0
"""Seven points of a triangle, each standing for a seventh of it."""
_up = [(3 * i + 1, 3 * j + 1, 10 - 3 * i - 3 * j) for i in range(4) for j in range(4 - i)]
_down = [(3 * i + 2, 3 * j + 2, 8 - 3 * i - 3 * j) for i in range(3) for j in range(3 - i)]
FINE = np.array(_up + _down) / 12.0
"""Sixteen points: the middles of the triangles that halving it twice makes."""


def inside(corner: np.ndarray, where: np.ndarray = SPLIT) -> np.ndarray:
    """Return `(s t, 3)` values at the places `where` (s, 3) of triangles from those at their corners (t, 3, 3)."""
    return np.matmul(where, corner).reshape(-1, 3)


def unit(vectors: np.ndarray) -> np.ndarray:
    """Return vectors (n, 3) made unit length; none stay none."""
    return vectors / np.maximum(np.linalg.norm(vectors, axis=1, keepdims=True), 1e-12)
