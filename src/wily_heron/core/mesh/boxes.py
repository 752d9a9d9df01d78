"""Boxes about points; far quicker than numpy's reductions along an axis of three."""

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def box_about(points: np.ndarray) -> np.ndarray:
    """Return the least and the greatest coordinates (2, 3) of points (n, 3): infinite, the least greater, of none.

    >>> box_about(np.array([[0.0, 1.0, 2.0], [3.0, -1.0, 2.0]])).tolist()
    [[0.0, -1.0, 2.0], [3.0, 1.0, 2.0]]
    """
    box = np.empty((2, 3))
    box[0], box[1] = np.inf, -np.inf
    for i in range(len(points)):
        for a in range(3):
            x = points[i, a]
            box[0, a], box[1, a] = min(box[0, a], x), max(box[1, a], x)
    return box


@njit(cache=True, nogil=True)
def in_box(points: np.ndarray, box: np.ndarray) -> np.ndarray:
    """Return `(n,) bool`: which of points (n, 3) lie in a box (2, 3) or on its sides.

    >>> in_box(np.array([[0.5, 0.5, 1.0], [0.5, 0.5, 1.1]]), np.array([[0.0, 0.0, 0.0], [1.0, 1.0, 1.0]])).tolist()
    [True, False]
    """
    out = np.empty(len(points), np.bool_)
    for i in range(len(points)):
        out[i] = True
        for a in range(3):
            out[i] = out[i] and box[0, a] <= points[i, a] <= box[1, a]
    return out


@njit(cache=True, nogil=True)
def grid_places(points: np.ndarray, low: np.ndarray, side: float, rim: int, shape: tuple[int, int, int]) -> np.ndarray:
    """Return `(n,) int64`: the flat places of points (n, 3) in a grid of `shape` with cells of one `side` that begins `rim` cells before
    `low` (3,).

    >>> grid_places(np.array([[0.05, 0, 0], [0, 0, 0.25]]), np.zeros(3), 0.1, 0, (3, 3, 3))
    array([0, 2])
    """
    out = np.empty(len(points), np.int64)
    for i in range(len(points)):
        place = 0
        for a in range(3):
            place = place * shape[a] + rim + int((points[i, a] - low[a]) / side)
        out[i] = place
    return out
