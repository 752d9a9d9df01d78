"""Polygons to triangles, with the map back."""

import numpy as np


def triangulate_quads(quads: np.ndarray) -> np.ndarray:
    """Return `(2m, 3) int32` triangles of `(m, 4)` quads; quad `i` gives triangles `2i` and `2i + 1`.

    >>> triangulate_quads(np.array([[4, 5, 6, 7]])).tolist()
    [[4, 5, 6], [4, 6, 7]]
    """
    out = np.empty((len(quads), 2, 3), np.int32)
    out[:, 0] = quads[:, [0, 1, 2]]
    out[:, 1] = quads[:, [0, 2, 3]]
    return out.reshape(-1, 3)
