"""Which triangles of a mesh its own edges go through, told again as some of its points move."""

import numpy as np

from ..mesh.corners import any_corner, moved_rows
from ..mesh.topology import topology_of
from .tree import TriangleTree
from .tree_memo import tree_on

_MUCH = 0.4
"""Where more than this share of the edges has moved, all are asked."""


class OwnCrossings:
    """The triangles (m, 3) that edges of the same mesh go through: what has not moved is not asked again."""

    def __init__(self, points: np.ndarray, triangles: np.ndarray) -> None:
        self._tree, self._edges = tree_on(points, triangles), topology_of(triangles, len(points)).edges
        self._pairs, self._points = self._tree.crossings(self._edges), np.array(points, np.float64)

    def at(self, points: np.ndarray) -> np.ndarray:
        """Return `(m,) bool`: which are gone through with the mesh at points (n, 3)."""
        tree, before, now = self._tree, self._points, np.array(points, np.float64)  # its own: the caller may go on with his in place
        tree.refit(now)
        moved, self._points = moved_rows(before, now), now
        edges, faces = moved[self._edges[:, 0]] | moved[self._edges[:, 1]], any_corner(moved, tree.triangles)
        if edges.mean() > _MUCH:
            self._pairs = tree.crossings(self._edges)
        elif edges.any():
            self._pairs = np.concatenate([self._pairs[~edges[self._pairs[:, 0]] & ~faces[self._pairs[:, 1]]], *self._fresh(edges, faces)])
        out = np.zeros(len(tree.triangles), bool)
        out[self._pairs[:, 1]] = True
        return out

    def through(self, faces: np.ndarray) -> np.ndarray:
        """Return the vertices (k,) of the edges that go through `faces` (m,) bool, as they were asked last."""
        return self._edges[self._pairs[faces[self._pairs[:, 1]], 0]].ravel()

    def _fresh(self, edges: np.ndarray, faces: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return which of the `edges` (e,) that moved go through which triangles, and which others through which of the `faces` (m,) that
        did."""
        rows, still, some = np.flatnonzero(edges), np.flatnonzero(~edges), np.flatnonzero(faces)
        theirs = self._tree.crossings(self._edges[rows])
        others = TriangleTree(self._tree.points, self._tree.triangles[some]).crossings(self._edges[still])
        return np.column_stack([rows[theirs[:, 0]], theirs[:, 1]]), np.column_stack([still[others[:, 0]], some[others[:, 1]]])
