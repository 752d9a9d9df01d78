"""Moving a piece less where its move would take it through itself."""

import numpy as np

from ..mesh.corners import any_corner
from ..mesh.edges import edge_use
from ..mesh.topology import topology_of
from ..space.tree import TriangleTree
from ..space.tree_memo import tree_on

_LESS, _TRIES, _RINGS = 0.6, 8, 2


def unfolded(start: np.ndarray, move: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return the displacement (n, 3) of a piece at `start`, made less about faces that it newly takes through the piece itself.

    About those it is made six tenths, and again, until there are none or it has all but gone there; `move` itself if there are none.
    """
    mesh = topology_of(triangles, len(start))
    near = mesh.near
    busy = np.linalg.norm(move, axis=1) > 1e-5
    for _ in range(_RINGS):
        busy = busy | (near @ busy > 0)
    rows = np.flatnonzero(any_corner(busy, triangles))
    edges, _ = edge_use(triangles[rows])
    tree = tree_on(start, triangles)
    before = tree.pierced(edges)
    fresh = tree.refit(start + move).pierced(edges) & ~before
    for _ in range(_TRIES):
        if not fresh.any():
            break
        less = np.zeros(len(start))
        less[triangles[fresh]] = 1.0
        for _ in range(_RINGS):
            less = np.maximum(less, (near @ less > 0).astype(float))
        less = 0.5 * (less + mesh.mean @ less)
        move = move * (1.0 - (1.0 - _LESS) * less)[:, None]
        fresh = _pierced_anew(tree.refit(start + move), edges, less > 0) & ~before
    return move


def _pierced_anew(tree: TriangleTree, edges: np.ndarray, moved: np.ndarray) -> np.ndarray:
    """Return the triangles (m,) bool that edges (e, 2) go through, of those that have moved and those that moved edges go through."""
    through = tree.pierced(edges[moved[edges].any(axis=1)])
    rows = np.flatnonzero(any_corner(moved, tree.triangles))
    through[rows] |= TriangleTree(tree.points, tree.triangles[rows]).pierced(edges)
    return through
