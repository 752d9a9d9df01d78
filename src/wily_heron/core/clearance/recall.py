"""What a cell's points were nearest to when it was last measured, so that only what has moved since is asked again."""

from collections.abc import Callable

import numpy as np

from ..mesh.corners import any_corner, moved_rows
from ..space.crossings import Crossings
from ..space.tree import Nearest, TriangleTree
from .cover import AGREE, UNDER, Cover

Asking = Callable[[np.ndarray, np.ndarray], Nearest]
"""Returns what is nearest to points (q, 3) that face (q, 3) so."""


class Recall:
    """One pair of layers of a cell that is measured again and again while one of them is moved.

    What it tells is what the tree would: a point whose own face has not moved keeps the nearest it had unless that has moved, and only
    what has moved is asked whether it is nearer now.
    """

    def __init__(self) -> None:
        self._under = self._normal = self._over = np.zeros((0, 3))
        self.unseen = np.zeros(0, bool)
        """Which of the under-layer's faces (t,) were looked at from all sides and seen from none."""
        self._was: dict[str, tuple[np.ndarray, Nearest]] = {}
        self._now: dict[str, tuple[np.ndarray, Nearest]] = {}
        self._cover: Cover | None = None

    def begin(self, under: np.ndarray, normal: np.ndarray, tree: TriangleTree) -> None:
        """Begin a measurement: the under-layer's points and normals (n, 3), and the over-layer's tree, where they are now."""
        self._was, self._now, self._tree = self._now, {}, tree
        if len(self._under) != len(under) or len(self._over) != len(tree.points):
            self._was, self.unseen = {}, np.zeros(0, bool)
        self._under_moved, self._over_moved, self._small = np.ones(len(under), bool), np.ones(len(tree.points), bool), None
        self._moved = np.ones(len(tree.triangles), bool)
        if self._was:
            self._under_moved, self._over_moved = moved_rows(self._under, under), moved_rows(self._over, tree.points)
            self._still = ~(self._under_moved | moved_rows(self._normal, normal))
            self._moved = any_corner(self._over_moved, tree.triangles)
            self._faces = np.flatnonzero(self._moved)
            self._small = TriangleTree(tree.points, tree.triangles[self._faces]) if len(self._faces) else None
        self._under, self._normal, self._over = np.array(under), np.array(normal), tree.points.copy()

    def crossings(self, under_tree: TriangleTree, cover: Cover) -> tuple[np.ndarray, np.ndarray]:
        """Return which sides (k, 2) of the under-layer go through which faces of the over-layer, and which edges (l, 2) of this through
        which faces of the under-layer, whose tree is where it is now."""
        if self._cover is not cover:
            self._cover, self._sides, self._edges = cover, Crossings(cover.sides), Crossings(cover.edges)
        faces = any_corner(self._under_moved, under_tree.triangles)
        return (self._sides.asked(self._under, self._tree, self._under_moved, self._moved, self._small),
                self._edges.asked(self._over, under_tree, self._over_moved, faces))

    def asking(self, name: str, keys: np.ndarray, corners: np.ndarray, each: int = 1) -> Asking:
        """Return what asks the points of a list by `name`: `each` of them for each of `keys` (k,), ascending, on the under-layer's
        vertices `corners` (k, c)."""
        def nearest(points: np.ndarray, facing: np.ndarray) -> Nearest:
            near = self._again(name, keys, corners, each, points, facing)
            self._now[name] = keys, near
            return near

        return nearest

    def _again(self, name: str, keys: np.ndarray, corners: np.ndarray, each: int, points: np.ndarray, facing: np.ndarray) -> Nearest:
        if name not in self._was or not len(self._was[name][0]):
            return self._tree.nearest(points, facing=facing, agree=AGREE, limit=UNDER)
        before, known = self._was[name]
        place = np.minimum(np.searchsorted(before, keys), len(before) - 1)
        kept = (before[place] == keys) & self._still[corners].all(axis=1)
        rows = (each * place[:, None] + np.arange(each)).ravel()
        triangle = np.where(np.repeat(kept, each), known.triangle[rows], -2)
        triangle[(triangle >= 0) & self._moved[np.maximum(triangle, 0)]] = -2
        fields = triangle, known.where[rows], known.point[rows], known.distance[rows]
        if self._small is not None:
            ask = np.flatnonzero(triangle > -2)
            found = self._small.nearest(points[ask], facing=facing[ask], agree=AGREE, limit=fields[3][ask])
            nearer = found.triangle >= 0
            _put(fields, ask[nearer], self._faces[found.triangle[nearer]], found, nearer)
        ask = np.flatnonzero(triangle == -2)
        if len(ask):
            found = self._tree.nearest(points[ask], facing=facing[ask], agree=AGREE, limit=UNDER)
            _put(fields, ask, found.triangle, found, np.ones(len(ask), bool))
        return Nearest(*fields)


def _put(fields: tuple[np.ndarray, ...], rows: np.ndarray, triangle: np.ndarray, found: Nearest, which: np.ndarray) -> None:
    for into, value in zip(fields, (triangle, found.where[which], found.point[which], found.distance[which]), strict=True):
        into[rows] = value
