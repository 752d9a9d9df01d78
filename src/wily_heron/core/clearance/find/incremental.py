"""What a cell's points were nearest to when it was last measured, so that only what has moved since is asked again."""

from collections.abc import Callable

import numpy as np
from numba import njit

from ...mesh.corners import any_corner, moved_rows
from ...space.crossings import Crossings
from ...space.tree import Nearest, TriangleTree
from ..cover.cover import AGREE, UNDER, Cover
from ..cover.key import Key

_Near = tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]
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
        return (self._sides.updated(self._under, self._tree, self._under_moved, self._moved, self._small),
                self._edges.updated(self._over, under_tree, self._over_moved, faces))

    def forget_crossings(self) -> None:
        """Ask all crossings anew next time: this measurement did not ask for all of them."""
        self._cover = None

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
        now = _carried(place, kept, each, self._moved, known.triangle, known.where, known.point, known.distance)
        if self._small is not None:
            _ask(now, np.flatnonzero(now[0] > -2), self._small, self._faces, points, facing)
        _ask(now, np.flatnonzero(now[0] == -2), self._tree, None, points, facing)
        return Nearest(*now)


class Recalls(dict[Key, Recall]):
    """One `Recall` for each pair of layers of a cell, made as it is first asked for."""

    def __missing__(self, key: Key) -> Recall:
        self[key] = made = Recall()
        return made


def _ask(now: _Near, rows: np.ndarray, tree: TriangleTree, faces: np.ndarray | None, points: np.ndarray, facing: np.ndarray) -> None:
    """Ask some `rows` (r,) of the points anew, and put in what is found: where the tree is of some `faces` only, what is nearer now."""
    if len(rows):
        limit = UNDER if faces is None else now[3][rows]
        found = tree.nearest(points[rows], facing=facing[rows], agree=AGREE, limit=limit)
        triangle = found.triangle if faces is None else np.where(found.triangle >= 0, faces[found.triangle], -1)
        _put(*now, rows, faces is None, triangle, found.where, found.point, found.distance)


@njit(cache=True, nogil=True)
def _carried(place, kept, each, moved, triangle, where, point, distance):
    # what each point, so many a key, was nearest to, by its key's `place` before: -2 where that is not `kept`, or has moved
    count = each * len(place)
    now = np.empty(count, np.int64), np.empty((count, 3)), np.empty((count, 3)), np.empty(count)
    for q in range(count):
        row = each * place[q // each] + q % each
        hit = triangle[row] if kept[q // each] else -2
        now[0][q] = -2 if hit >= 0 and moved[hit] else hit
        now[3][q] = distance[row]
        for a in range(3):
            now[1][q, a], now[2][q, a] = where[row, a], point[row, a]
    return now


@njit(cache=True, nogil=True)
def _put(triangle, where, point, distance, rows, every, hit, at, near, gap):
    # what has been found for some rows, or where something has
    for i in range(len(rows)):
        if every or hit[i] >= 0:
            q = rows[i]
            triangle[q], distance[q] = hit[i], gap[i]
            for a in range(3):
                where[q, a], point[q, a] = at[i, a], near[i, a]
