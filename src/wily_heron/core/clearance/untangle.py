"""Cloth that has come to lie through itself, smoothed out there."""

from collections.abc import Callable

import numpy as np

from ..mesh.edges import edge_use
from ..mesh.topology import topology_of
from ..space.tree import TriangleTree

_ROUNDS, _RINGS, _SWEEPS = 16, 2, 4
_OFF = 0.002
"""What is smoothed stays at least this far (metres) off what lies under it."""


def untangled(points: np.ndarray, before: np.ndarray, triangles: np.ndarray, floor: TriangleTree,
              worse: Callable[[np.ndarray], np.ndarray]) -> np.ndarray:
    """Return the points (n, 3) of cloth smoothed about the faces that go through it there and did not `before` (n, 3), off the `floor`.

    A crease that folds into itself opens as it is smoothed: each vertex about it goes half-way to the mean of its neighbours, over and
    over. Vertices that are `worse` otherwise (n,) for it stay where they are from then on, with those about them. What is kept is where
    the fewest faces go through it.
    """
    mesh, (edges, _) = topology_of(triangles, len(points)), edge_use(triangles)
    tree = TriangleTree(before, triangles)
    was = tree.pierced(edges)
    at, best, held = points, (points, len(triangles)), np.zeros(len(points), bool)
    for _ in range(_ROUNDS):
        bad = tree.refit(at).pierced(edges) & ~was
        if bad.sum() < best[1]:
            best = at, int(bad.sum())
        if not bad.any():
            break
        about = np.zeros(len(points))
        about[triangles[bad]] = 1.0
        for _ in range(_RINGS):
            about = np.maximum(about, (mesh.near @ about > 0).astype(float))
        about = np.where(held, 0.0, 0.5 * (about + mesh.mean @ about))
        tried = at
        for _ in range(_SWEEPS):
            tried = tried + (0.5 * about)[:, None] * (mesh.mean @ tried - tried)
        signed, near = floor.signed_distance(tried)
        low = (signed < _OFF) & (about > 0)
        tried[low] += ((_OFF - signed)[:, None] * floor.normals_at(near))[low]
        bad = worse(tried) & ~held
        if not bad.any():
            at = tried
        for _ in range(_RINGS):
            bad = bad | (mesh.near @ bad > 0)
        held |= bad
    return best[0]
