"""Triangle trees: what is nearest to a point, on which side, and what a ray meets."""

from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from copy import copy
from dataclasses import dataclass

import numpy as np

from .crossing_kernels import crossings
from .nearest_kernels import closest, closest_together, weighted
from .pseudo_normals import PseudoNormals, pseudo_normals
from .ray_kernels import escapes, ray_hits
from .tree_kernels import EVEN, build, refit
from .views import Views

_MANY = 3000
"""From so many queries on a second core is worth its while: they take a millisecond or more, handing them over a twentieth of that."""
_BESIDE = ThreadPoolExecutor(2)
_CROSSINGS, _NO_END = 8192, 2**62
"""Room for so many crossings; where there are more, they are looked for again. So many leaves are never looked into."""


@dataclass(frozen=True)
class Nearest:
    """Per query: `triangle` (q,) or -1, `where` (q, 3) barycentric, `point` (q, 3), `distance` (q,) metres."""

    triangle: np.ndarray
    where: np.ndarray
    point: np.ndarray
    distance: np.ndarray


class TriangleTree:
    """A box tree over triangles (m, 3): built once for a topology, `refit` for every new set of points."""

    def __init__(self, points: np.ndarray, triangles: np.ndarray) -> None:
        self.triangles = np.ascontiguousarray(triangles, np.int32)
        self.points = np.ascontiguousarray(points, np.float64)
        order, kids = np.arange(len(triangles)), np.zeros((len(triangles) // 8 + 2, 8), np.int64)
        nodes = build(self.points[self.triangles].mean(axis=1), order, kids)
        over = -len(order) % 8
        self._order = np.concatenate([order, np.repeat(order[8 * (len(order) // 8) :][:1], over)]).reshape(-1, 8)
        self._kids = kids[:nodes].copy()
        self._room()
        self.refit(points)

    def _room(self) -> None:
        self._boxes, self._leaves = np.empty((len(self._kids), 6, 8), np.float32), np.empty((len(self._order), 12, 8))
        self._pseudo: PseudoNormals | None = None
        self._normals: np.ndarray | None = None

    def move_to(self, boxes: np.ndarray, leaves: np.ndarray) -> None:
        """Keep the boxes and leaves in these arrays from now on."""
        if self._leaves is not leaves:
            boxes[:], leaves[:] = self._boxes, self._leaves
            self._boxes, self._leaves = boxes, leaves

    def again(self, points: np.ndarray) -> "TriangleTree":
        """Return another tree over the same triangles at points (n, 3), built on the same boxes."""
        other = copy(self)
        other._room()
        return other.refit(points)

    def refit(self, points: np.ndarray) -> "TriangleTree":
        """Move the tree's points (n, 3); topology stays."""
        self.points = np.ascontiguousarray(points, np.float64)
        self._pseudo = self._normals = None
        refit(self.points, self.triangles, *self.arrays)
        return self

    @property
    def normals(self) -> np.ndarray:
        """The triangles' unit normals (m, 3)."""
        if self._normals is None:
            normals = np.empty((len(self.triangles), 3))
            normals[self._order] = np.moveaxis(self._leaves[:, 9:], 1, 2)
            self._normals = normals  # whole before another thread sees it
        return self._normals

    @property
    def arrays(self) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
        """What kernels read of it: which triangles are in the leaves, the nodes' kids and boxes, the leaves (see tree_kernels)."""
        return self._order, self._kids, self._boxes, self._leaves

    def nearest(self, queries: np.ndarray, facing: np.ndarray | None = None, agree: float = 0.3,
                limit: float | np.ndarray = 1e9) -> Nearest:
        """Return the nearest surface point of each query (q, 3), none farther than `limit` metres (one or (q,)).

        With `facing` (q, 3) unit directions, only triangles whose normals make a cosine of at least `agree` count.
        """
        q = np.ascontiguousarray(queries, np.float64)
        hit, where, gap = np.empty(len(q), np.int64), np.zeros((len(q), 3)), np.empty(len(q))
        f = np.zeros((1, 3)) if facing is None else np.ascontiguousarray(facing, np.float64)
        far = np.empty(len(q))
        far[:] = limit
        alike = facing is not None and len(f) > 1 and bool((f[0] == f[1]).all())  # points of faces
        ask = closest_together if alike else closest
        half = len(q) // 2 if len(q) >= _MANY else 0
        parts = [slice(half, None), slice(0, half)] if half else [slice(None)]

        def part(rows: slice) -> None:
            ask(q[rows], f if facing is None else f[rows], -2.0 if facing is None else agree, far[rows], EVEN, *self.arrays, hit[rows],
                where[rows], gap[rows])

        beside = [_BESIDE.submit(part, rows) for rows in parts[1:]]
        part(parts[0])
        for each in beside:
            each.result()
        return Nearest(hit, where, weighted(self.points, self.triangles, hit, where), gap)

    def signed_distance(self, queries: np.ndarray) -> tuple[np.ndarray, Nearest]:
        """Return `(d, nearest)`: distance in metres, negative inside (behind the angle-weighted pseudo-normal).

        Follows: Baerentzen & Aanaes, Signed distance computation using the angle weighted pseudonormal, 2005.
        """
        near = self.nearest(queries)
        normal = self.normals_at(near)
        side = np.sum((np.asarray(queries, np.float64) - near.point) * normal, axis=1)
        return np.where(side < 0, -near.distance, near.distance), near

    def normals_at(self, near: Nearest) -> np.ndarray:
        """Return the pseudo-normal (q, 3) at each nearest point: of the face, the edge or the vertex it lies on."""
        return self.sign().at(near.triangle, near.where)

    def sign(self) -> PseudoNormals:
        """Return the pseudo-normals, kept until it is refit; to be asked for before several threads ask for signs."""
        if self._pseudo is None:
            self._pseudo = pseudo_normals(self.points, self.triangles)
        return self._pseudo

    def first_hits(self, origins: np.ndarray, directions: np.ndarray, reach: float) -> tuple[np.ndarray, np.ndarray]:
        """Return `(distance, triangle)` of the first triangle each ray meets within `reach` metres; inf and -1 for none."""
        o, d = np.ascontiguousarray(origins, np.float64), np.ascontiguousarray(directions, np.float64)
        distance, hit = np.empty(len(o)), np.empty(len(o), np.int64)
        ray_hits(o, d, reach, *self.arrays, distance, hit)
        return distance, hit

    def pierced(self, edges: np.ndarray) -> np.ndarray:
        """Return `(m,) bool`: the triangles that one of `edges` (e, 2), rows of the tree's own points, goes through.

        Edges that share a corner with the triangle do not count, nor do touches within a millionth of an edge.
        """
        out = np.zeros(len(self.triangles), bool)
        out[self.through(self.points, edges, True)[:, 1]] = True
        return out

    def through(self, points: np.ndarray, edges: np.ndarray, own: bool = False) -> np.ndarray:
        """Return `(k, 2) int32`: which of `edges` (e, 2) of points (n, 3) goes through which triangle, some of them told twice; with `own`,
        as in `pierced`."""
        points, edges, count = np.ascontiguousarray(points, np.float64), np.ascontiguousarray(edges, np.int32), _CROSSINGS
        while True:
            pairs = np.empty((count, 2), np.int32)
            count, _ = crossings(points, edges, self.triangles, own, *self.arrays, pairs, _NO_END)
            if count <= len(pairs):
                return pairs[:count]

    def some_pierced(self, edges: np.ndarray, most: int) -> tuple[np.ndarray, bool]:
        """Return what `pierced` does, and whether that is all: `most` leaves of the tree are looked into at most."""
        points, edges = np.ascontiguousarray(self.points, np.float64), np.ascontiguousarray(edges, np.int32)
        pairs, out = np.empty((most // 8, 2), np.int32), np.zeros(len(self.triangles), bool)
        count, asked = crossings(points, edges, self.triangles, True, *self.arrays, pairs, most)
        out[pairs[: min(count, len(pairs)), 1]] = True
        return out, asked == len(edges) and count <= len(pairs)


class Screen:
    """Trees that hide what lies behind them, wherever they are refit to: what is refit of each stands with the others' from then on."""

    def __init__(self, trees: Sequence[TriangleTree]) -> None:
        self.trees = list(trees)
        nodes, leaves = (np.cumsum([0, *(len(each) for each in part)])
                         for part in ([t._kids for t in trees], [t._leaves for t in trees]))
        self._kids = np.concatenate([np.where(t._kids > 0, t._kids + node, np.where(t._kids < 0, t._kids - leaf, 0))
                                     for t, node, leaf in zip(trees, nodes[:-1], leaves[:-1], strict=True)])
        self._roots, self._boxes, self._leaves = nodes[:-1], np.empty((nodes[-1], 6, 8), np.float32), np.empty((leaves[-1], 12, 8))
        self._rooms = [(self._boxes[n:m], self._leaves[k:i]) for n, m, k, i in zip(nodes, nodes[1:], leaves, leaves[1:], strict=False)]

    def gather(self) -> None:
        """Take the trees in, if another screen has had them since: to be done before several threads ask."""
        for tree, room in zip(self.trees, self._rooms, strict=True):
            tree.move_to(*room)

    def escapes(self, points: np.ndarray, facing: np.ndarray, views: Views, least: float, reach: float,
                order: Sequence[int] | None = None) -> np.ndarray:
        """Return `(q,) int`: the number of a view along which a ray from a point (q, 3) meets none of the trees within `reach` metres,
        -1 for none; only views count that make more than the cosine `least` with its unit `facing`. The trees are asked in `order`."""
        self.gather()
        out = np.full(len(points), -1, np.int64)
        o, d = np.ascontiguousarray(points, np.float64), np.ascontiguousarray(facing, np.float64)
        roots = self._roots if order is None else self._roots[list(order)]
        escapes(o, d, views.directions, views.beside, least, reach, roots, self._kids, self._boxes, self._leaves, out)
        return out
