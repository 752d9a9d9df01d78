"""The threads of cloth that hangs: how far they are stretched, and brought back."""

import numpy as np

from ...mesh.edges import edge_lengths, unique_edges
from ...space.tree import TriangleTree
from .untangle import untangled

GOAL = 1.35
"""To so many times its length a thread is brought back, if it is longer."""
_SLACK = 0.98
"""It is brought back to so much of that, to be within it."""
_SWEEPS = 12


class Threads:
    """The edges (e, 2) of the triangles (m, 3) of what `hangs` (n,), and how `long` (e,) they are at rest (n, 3)."""

    def __init__(self, rest: np.ndarray, triangles: np.ndarray, hangs: np.ndarray) -> None:
        self.triangles = triangles
        edges, _ = unique_edges(triangles)
        self.edges = edges[hangs[edges].all(axis=1)]
        self.long = np.maximum(edge_lengths(rest, self.edges), 1e-6)

    def stretches(self, points: np.ndarray) -> np.ndarray:
        """Return how many times its length each of them (e,) is at `points` (n, 3)."""
        return edge_lengths(points, self.edges) / self.long

    def stretch(self, points: np.ndarray) -> float:
        """Return how many times its length the most stretched of them is, 1 if none is stretched."""
        return float(self.stretches(points).max(initial=1.0))

    def slacken(self, points: np.ndarray, loose: np.ndarray) -> bool:
        """Draw the `loose` (n,) ends of those that are too long together, in place; return whether any was.

        Each vertex goes the mean of the ways its threads draw it, and half as much again. Follows: Provot, Deformation constraints in a
        mass-spring model, 1995.
        """
        most = _SLACK * GOAL * self.long
        for sweep in range(_SWEEPS):
            way = points[self.edges[:, 1]] - points[self.edges[:, 0]]
            size = np.linalg.norm(way, axis=1)
            over = np.flatnonzero(size > most)
            if not len(over):
                return sweep > 0
            ends = self.edges[over]
            free = loose[ends].astype(np.float64)
            times = 1.5 / np.maximum(np.bincount(ends.ravel(), minlength=len(points)), 1.5)
            move = (1.0 - most[over] / size[over])[:, None] * way[over]
            share = free / np.maximum(free.sum(axis=1, keepdims=True), 1.0) * times[ends]
            np.add.at(points, ends[:, 0], share[:, :1] * move)
            np.add.at(points, ends[:, 1], -share[:, 1:] * move)
        return True

    def off_themselves(self, points: np.ndarray, floor: TriangleTree, before: np.ndarray) -> tuple[np.ndarray, int]:
        """Return the points (n, 3) smoothed out where faces have come to lie through others that did not `before` (n, 3), off the `floor`,
        but not where that makes them too long; and how many more faces go through others than did."""
        most = max(GOAL, self.stretch(points))

        def too_long(p: np.ndarray) -> np.ndarray:
            out = np.zeros(len(p), bool)
            out[self.edges[self.stretches(p) > most]] = True
            return out

        return untangled(points, before, self.triangles, floor, too_long)
