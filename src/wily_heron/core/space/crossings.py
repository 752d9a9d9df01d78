"""Which edges go through which triangles, of the same mesh or of another, told again as some of their points move."""

import numpy as np

from ..mesh.corners import any_corner, moved_rows
from ..mesh.topology import topology_of
from .tree import TriangleTree
from .tree_memo import tree_on

_MUCH = 0.4
"""Where more than this share of the edges has moved, all are asked."""


class Crossings:
    """Which of the `edges` (e, 2) of a mesh go through which triangles of another, or of its `own`: what has not moved is not asked again.
    As `pairs` (k, 2): the edge, the triangle."""

    def __init__(self, edges: np.ndarray, own: bool = False) -> None:
        self.edges, self._own = edges, own
        self.pairs: np.ndarray | None = None

    def updated(self, points: np.ndarray, tree: TriangleTree, moved: np.ndarray, faces: np.ndarray,
              small: TriangleTree | None = None) -> np.ndarray:
        """Return the pairs with the edges at points (n, 3), of which `moved` (n,) have since it was last asked, and the other mesh where
        its tree is, of which `faces` (m,) have; `small` is a tree of these alone, if there is one."""
        edges = moved[self.edges[:, 0]] | moved[self.edges[:, 1]]
        if self.pairs is None or (len(edges) and edges.mean() > _MUCH):
            self.pairs = tree.through(points, self.edges, self._own)
        elif edges.any() or faces.any():
            kept = self.pairs[~edges[self.pairs[:, 0]] & ~faces[self.pairs[:, 1]]]
            rows, still, some = np.flatnonzero(edges), np.flatnonzero(~edges), np.flatnonzero(faces)
            theirs = tree.through(points, self.edges[rows], self._own)
            parts = [kept, np.column_stack([rows[theirs[:, 0]], theirs[:, 1]])]
            if len(some):
                others = (small or TriangleTree(tree.points, tree.triangles[some])).through(points, self.edges[still], self._own)
                parts.append(np.column_stack([still[others[:, 0]], some[others[:, 1]]]))
            self.pairs = np.concatenate(parts)
        return self.pairs


class OwnCrossings:
    """The triangles (m, 3) that edges of the same mesh go through, as it moves."""

    def __init__(self, points: np.ndarray, triangles: np.ndarray) -> None:
        self._tree, self._points = tree_on(points, triangles), np.array(points, np.float64)
        self._crossings = Crossings(topology_of(triangles, len(points)).edges, own=True)
        self._ask(np.zeros(len(points), bool))

    def at(self, points: np.ndarray) -> np.ndarray:
        """Return `(m,) bool`: which are gone through with the mesh at points (n, 3)."""
        before, self._points = self._points, np.array(points, np.float64)  # its own: the caller may go on with his in place
        pairs, out = self._ask(moved_rows(before, self._points)), np.zeros(len(self._tree.triangles), bool)
        out[pairs[:, 1]] = True
        return out

    def through(self, faces: np.ndarray) -> np.ndarray:
        """Return the vertices (k,) of the edges that go through `faces` (m,) bool, as they were asked last."""
        pairs = self._ask(np.zeros(len(self._points), bool))
        return self._crossings.edges[pairs[faces[pairs[:, 1]], 0]].ravel()

    def _ask(self, moved: np.ndarray) -> np.ndarray:
        if moved.any():
            self._tree.refit(self._points)
        return self._crossings.updated(self._points, self._tree, moved, any_corner(moved, self._tree.triangles))
