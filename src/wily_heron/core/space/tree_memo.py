"""Trees by topology: a box tree is built once for an array of triangles and refit for every other set of points."""

import numpy as np

from ..mesh.array_memo import ArrayMemo
from .tree import TriangleTree

_KNOWN: ArrayMemo[TriangleTree] = ArrayMemo(24)


def tree_on(points: np.ndarray, triangles: np.ndarray) -> TriangleTree:
    """Return a tree over triangles (m, 3) at points (n, 3), one's own to refit; its boxes are those of the same array met before, if it is
    among the last two dozen."""
    return _KNOWN.of(triangles, lambda: TriangleTree(points, triangles)).again(points)
