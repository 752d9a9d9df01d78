"""Moving a piece less where its move would take it through itself."""

import numpy as np

from ..mesh.corners import any_corner
from ..mesh.edges import adjacency, edge_use
from ..space.tree import TriangleTree

_LESS, _TRIES, _RINGS = 0.6, 8, 2


def unfolded(start: np.ndarray, move: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return the displacement (n, 3) of a piece at `start`, made less about faces that it newly takes through the piece itself.

    About those it is made six tenths, and again, until there are none or it has all but gone there; `move` itself if there are none.
    """
    near = adjacency(triangles, len(start))
    busy = np.linalg.norm(move, axis=1) > 1e-5
    for _ in range(_RINGS):
        busy = busy | (near @ busy > 0)
    rows = np.flatnonzero(any_corner(busy, triangles))
    edges, _ = edge_use(triangles[rows])
    tree = TriangleTree(start, triangles)
    before = tree.pierced(edges)
    ring = near.multiply(1.0 / np.maximum(np.asarray(near.sum(axis=1)), 1.0)).tocsr()
    for _ in range(_TRIES):
        fresh = tree.refit(start + move).pierced(edges) & ~before
        if not fresh.any():
            break
        less = np.zeros(len(start))
        less[triangles[fresh]] = 1.0
        for _ in range(_RINGS):
            less = np.maximum(less, (near @ less > 0).astype(float))
        less = 0.5 * (less + ring @ less)
        move = move * (1.0 - (1.0 - _LESS) * less)[:, None]
    return move
