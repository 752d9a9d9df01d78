"""Cloth that has come to lie through itself, smoothed out there."""

from collections.abc import Callable

import numpy as np

from ...mesh.corners import corners_of, ringed
from ...mesh.topology import Topology, topology_of
from ...space.crossings import OwnCrossings
from ...space.tree import TriangleTree

_ROUNDS = 16, 40
_WAYS = (1, 8), (1, 2), (2, 8), (1, 8)
"""How many rings about what goes through it are smoothed, and how often in a round: one way after another, while more faces do than did."""
_FEWER, _NO_GAIN = (0.95, 0.99), (2, 6)
"""A round that leaves more than this share of the faces is in vain, and after more than so many of those in a row there is an end: the
first where no more faces go through it than did, the second while more do."""
_OFF = 0.002
"""What is smoothed stays at least this far (metres) off what lies under it."""


def untangled(points: np.ndarray, before: np.ndarray, triangles: np.ndarray, floor: TriangleTree,
              worse: Callable[[np.ndarray], np.ndarray]) -> tuple[np.ndarray, int]:
    """Return the points (n, 3) of cloth smoothed about the faces that go through it there and did not `before` (n, 3), off the `floor`; and
    how many more faces go through it than did, less than nothing if fewer.

    A crease that folds into itself opens as it is smoothed: each vertex about it goes half-way to the mean of its neighbours, over and
    over. Vertices that are `worse` otherwise (n,) for it stay where they are from then on, with those about them. What is kept is where
    the fewest faces go through it.
    """
    mesh, crossings = topology_of(triangles, len(points)), OwnCrossings(before, triangles)
    was = crossings.at(before)
    at, best, more = points, (len(triangles), len(triangles), points), 0
    for rings, sweeps in _WAYS:
        held, no_gain = np.zeros(len(points), bool), 0
        for k in range(_ROUNDS[1]):
            through = crossings.at(at)
            bad, hard = through & ~was, int(more > 0)
            no_gain = 0 if bad.sum() < _FEWER[hard] * best[1] else no_gain + 1
            now = max(int(through.sum()) - int(was.sum()), 0), int(bad.sum())
            if now < best[:2]:
                best = (*now, at)
            more = best[0]
            if not bad.any() or no_gain > _NO_GAIN[hard] or k >= _ROUNDS[hard]:
                break
            at, held = _smoothed(at, bad, held, mesh, floor, worse, rings, sweeps)
        if not more:
            break
        at = best[2]
    return best[2], more


def _smoothed(at: np.ndarray, bad: np.ndarray, held: np.ndarray, mesh: Topology, floor: TriangleTree,
              worse: Callable[[np.ndarray], np.ndarray], rings: int, sweeps: int) -> tuple[np.ndarray, np.ndarray]:
    """Return the points (n, 3) smoothed about the `bad` faces (m,) but where they are `held` (n,), and what is held from now on."""
    about = ringed(corners_of(bad, mesh.triangles, len(at)), mesh.triangles, rings).astype(float)
    about = np.where(held, 0.0, 0.5 * (about + mesh.mean @ about))
    tried, rows = at.copy(), np.flatnonzero(about)
    mean, half = mesh.mean[rows], 0.5 * about[rows, None]
    for _ in range(sweeps):
        tried[rows] += half * (mean @ tried - tried[rows])
    signed, near = floor.signed_distance(tried[rows])
    tried[rows] += np.maximum(_OFF - signed, 0.0)[:, None] * floor.normals_at(near)
    worsened = worse(tried) & ~held
    return at if worsened.any() else tried, held | ringed(worsened, mesh.triangles, rings)
