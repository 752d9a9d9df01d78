"""Moving a piece less where its move would take it through itself."""

import numpy as np

from ..mesh.corners import any_corner, corners_of, ringed
from ..mesh.edges import edge_use
from ..mesh.topology import topology_of
from ..space.tree_memo import tree_on

_LESS, _TRIES, _STILL, _RINGS = 0.6, 7, 3, 2


def unfolded(start: np.ndarray, move: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return the displacement (n, 3) of a piece at `start`, made less about faces that it newly takes through the piece itself.

    About those it is made six tenths, and again, until no more faces lie through the piece than before, and in the end nothing at all;
    `move` itself if no more do. Only edges of faces that move are asked, which is soon done; what that misses is seen to in the end: see
    `apart`.

    Args:
        start: (n, 3) float, metres.
        move: (n, 3) metres.
        triangles: (m, 3) int32.

    >>> points = np.array([[0.0, 0, 0], [1, 0, 0], [0, 1, 0]])
    >>> move = np.full((3, 3), 0.1)
    >>> np.array_equal(unfolded(points, move, np.array([[0, 1, 2]])), move)  # one face goes through no other
    True
    """
    mesh = topology_of(triangles, len(start))
    busy = ringed(np.linalg.norm(move, axis=1) > 1e-5, triangles, _RINGS)
    rows = np.flatnonzero(any_corner(busy, triangles))
    edges, _ = edge_use(triangles[rows])
    tree = tree_on(start, triangles)
    before = tree.pierced(edges)
    after = tree.refit(start + move).pierced(edges)
    for k in range(_TRIES + _STILL):
        if after.sum() <= before.sum():
            break
        less = ringed(corners_of(after & ~before, triangles, len(start)), triangles, _RINGS).astype(float)
        less = 0.5 * (less + mesh.mean @ less)
        move = move * (1.0 - (1.0 - (_LESS if k < _TRIES else 0.0)) * less)[:, None]
        after = tree.refit(start + move).pierced(edges)
    return move
