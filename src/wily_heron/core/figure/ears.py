"""Ears drawn to a point, in the skin itself."""

import numpy as np
from scipy.spatial import KDTree


def ear_moves(points: np.ndarray, regions: np.ndarray, names: np.ndarray, quads: np.ndarray) -> np.ndarray:
    """Return `(n, 3)` the moves that draw the ears' tips up, out and back.

    `regions` (m0,) index `names` for the faces of the cage, of which each face of `quads` (m, 4) is a part.
    """
    of = np.repeat(regions, len(quads) // len(regions))
    moves = np.zeros_like(points)
    for side, sign in (("l_ear", 1.0), ("r_ear", -1.0)):
        mine = of == list(names).index(side)
        rows = np.unique(quads[mine])
        root = np.intersect1d(rows, np.unique(quads[~mine]))
        free = np.clip(KDTree(points[root]).query(points[rows])[0] / 0.018, 0.0, 1.0)  # the ear's root stays on the head
        y = points[rows, 1]
        low, high = y.min(), y.max()
        t = np.clip((y - low - 0.45 * (high - low)) / (0.55 * (high - low)), 0.0, 1.0)
        moves[rows] += (t * t * free * free * (3 - 2 * free))[:, None] * np.array([0.010 * sign, 0.034, -0.016])
    return moves
