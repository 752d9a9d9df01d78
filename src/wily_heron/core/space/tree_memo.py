"""Trees by topology: a box tree is built once for an array of triangles and refit for every other set of points."""

from collections import OrderedDict
from threading import Lock

import numpy as np

from .tree import TriangleTree

_KNOWN: OrderedDict[int, tuple[np.ndarray, TriangleTree]] = OrderedDict()
_SIZE = 24
_GATE = Lock()


def tree_on(points: np.ndarray, triangles: np.ndarray) -> TriangleTree:
    """Return a tree over triangles (m, 3) at points (n, 3), one's own to refit; its boxes are those of the same array met before, if it is
    among the last two dozen."""
    with _GATE:
        known = _KNOWN.get(id(triangles))
        if known is not None and known[0] is triangles:
            _KNOWN.move_to_end(id(triangles))
            return known[1].again(points)
    made = TriangleTree(points, triangles)
    with _GATE:
        _KNOWN[id(triangles)] = (triangles, made)  # holding the array keeps its id its own
        while len(_KNOWN) > _SIZE:
            _KNOWN.popitem(last=False)
    return made.again(points)
