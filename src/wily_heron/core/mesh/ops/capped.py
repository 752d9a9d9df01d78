"""Moves held to a greatest length."""

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def capped(move: np.ndarray, most: float) -> np.ndarray:
    """Return a move (n, 3), no part of it farther than `most` (metres).

    >>> capped(np.array([[0.03, 0.04, 0.0], [0.0, 0.0, 0.001]]), 0.01).round(6).tolist()
    [[0.006, 0.008, 0.0], [0.0, 0.0, 0.001]]
    """
    out = np.empty_like(move)
    for i in range(len(move)):
        x, y, z = move[i, 0], move[i, 1], move[i, 2]
        size = np.sqrt(x * x + y * y + z * z)
        share = most / size if size > most else 1.0
        out[i, 0], out[i, 1], out[i, 2] = share * x, share * y, share * z
    return out
