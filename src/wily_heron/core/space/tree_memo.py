"""Trees by topology: a box tree is built once for an array of triangles and refit for every other set of points."""

import numpy as np

from ..memo import Memo, Same
from .tree import TriangleTree

_KNOWN: Memo[TriangleTree] = Memo("triangle trees", 192 * 2**20)


def tree_on(points: np.ndarray, triangles: np.ndarray) -> TriangleTree:
    """Return a tree over triangles (m, 3) at points (n, 3), one's own to refit; its boxes are those of the same array met before, if it was
    met lately.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
    """
    return _KNOWN.of(Same(triangles), lambda: TriangleTree(points, triangles)).again(points)
