"""Sides from which things are looked at."""

import numpy as np

_BESIDE, _NEAR = 3, 0.5
"""So many are told as beside one, and by what cosine they must lie near it."""


class Views:
    """Unit `directions` (v, 3), and for each those `beside` it (v, 3), of the ones before it; itself where there are not so many."""

    def __init__(self, directions: np.ndarray) -> None:
        self.directions = np.ascontiguousarray(directions, np.float64)
        count = len(self.directions)
        cosine = np.tril(self.directions @ self.directions.T, -1)
        nearest = np.argsort(-cosine, axis=1, kind="stable")[:, :_BESIDE]
        self.beside = np.where(np.take_along_axis(cosine, nearest, 1) > _NEAR, nearest, np.arange(count)[:, None])
