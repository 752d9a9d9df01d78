"""A piece's surface as the hand goes over it: how far it is from one vertex to another along the cloth."""

from dataclasses import dataclass

import numpy as np
from scipy.spatial import KDTree

from ..mesh.edges import edge_lengths, unique_edges
from ..mesh.islands import islands
from ..mesh.normals import vertex_normals
from .surface_kernels import spread_out

_BRIDGE = 0.012


@dataclass(frozen=True)
class Surface:
    """The graph of a mesh (CSR rows `first`, `near`, `length`), the number of true edges of each vertex, and mirror images.

    Beside the edges, each pair of triangles gives the way across them, unfolded; loose parts that lie on others are bridged. `other`
    (n,) is the vertex nearest to each one's mirror image, or -1.
    """

    first: np.ndarray
    near: np.ndarray
    length: np.ndarray
    edges_of: np.ndarray
    other: np.ndarray

    @classmethod
    def of(cls, points: np.ndarray, triangles: np.ndarray) -> "Surface":
        """Return the graph of points (n, 3) and triangles (m, 3)."""
        p = np.asarray(points, np.float64)
        edges, face_edges = unique_edges(triangles)
        own = edge_lengths(p, edges)
        over, over_length = _across(p, triangles, face_edges, edges)
        bridge, bridge_length = _bridges(p, triangles)
        pairs = np.concatenate([edges, over, bridge])
        lengths = np.concatenate([own, over_length, bridge_length])
        kind = np.concatenate([np.zeros(len(edges)), np.ones(len(over) + len(bridge))])
        both, lengths, kind = np.concatenate([pairs, pairs[:, ::-1]]), np.tile(lengths, 2), np.tile(kind, 2)
        order = np.lexsort((kind, both[:, 0]))
        first = np.concatenate([[0], np.cumsum(np.bincount(both[:, 0], minlength=len(p)))]).astype(np.int64)
        edges_of = np.bincount(both[kind == 0, 0], minlength=len(p)).astype(np.int64)
        gap, twin = KDTree(p).query(p * [-1.0, 1.0, 1.0], distance_upper_bound=0.03)
        return cls(first, np.ascontiguousarray(both[order, 1], np.int64), lengths[order], edges_of, np.where(np.isfinite(gap), twin, -1))

    def within(self, start: np.ndarray, reach: float) -> tuple[np.ndarray, np.ndarray]:
        """Return the vertices within `reach` metres of any of `start` along the surface, nearest first, and their distances."""
        distance, touched = np.full(len(self.edges_of), np.inf), np.empty(len(self.edges_of), np.int64)
        count = spread_out(np.asarray(start, np.int64), self.first, self.near, self.length, reach, distance, touched)
        rows = touched[:count]
        return rows, distance[rows]


def soft(distance: np.ndarray, radius: float) -> np.ndarray:
    """Return the brush's fall-off: 1 at its middle, 0 at its radius, level at both.

    >>> soft(np.array([0.0, 0.05, 0.1, 0.2]), 0.1).tolist()
    [1.0, 0.5625, 0.0, 0.0]
    """
    return np.clip(1.0 - (distance / radius) ** 2, 0.0, 1.0) ** 2


def _across(p, triangles, face_edges, edges):
    """Pairs of vertices opposite each other over an inner edge, and the straight way between them with the two faces laid flat."""
    use = np.bincount(face_edges.ravel(), minlength=len(edges))
    order = np.argsort(face_edges.ravel(), kind="stable")
    start = np.concatenate([[0], np.cumsum(use)])
    inner = np.flatnonzero(use == 2)
    one, two = order[start[inner]], order[start[inner] + 1]
    opposite = np.stack([triangles[one // 3, (one % 3 + 2) % 3], triangles[two // 3, (two % 3 + 2) % 3]], axis=1)
    a, b = p[edges[inner, 0]], p[edges[inner, 1]]
    axis = (b - a) / np.maximum(np.linalg.norm(b - a, axis=1, keepdims=True), 1e-12)

    def flat(c: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        along = np.sum((c - a) * axis, axis=1)
        return along, np.linalg.norm(c - a - along[:, None] * axis, axis=1)

    (x0, y0), (x1, y1) = flat(p[opposite[:, 0]]), flat(p[opposite[:, 1]])
    crossing = x0 + (x1 - x0) * y0 / np.maximum(y0 + y1, 1e-12)
    inside = (crossing >= 0) & (crossing <= np.linalg.norm(b - a, axis=1))
    return opposite[inside], np.hypot(x1 - x0, y0 + y1)[inside]


def _bridges(p, triangles):
    """Links from loose parts (a placket, a button) to what they lie on, so that a stroke takes them along."""
    count, label = islands(triangles, len(p))
    used = np.bincount(triangles.ravel(), minlength=len(p)) > 0
    main, loose = np.flatnonzero((label == 0) & used), np.flatnonzero((label > 0) & used)
    if count < 2 or not len(loose):
        return np.zeros((0, 2), np.int32), np.zeros(0)
    gap, near = KDTree(p[main]).query(p[loose], distance_upper_bound=_BRIDGE)
    there = np.isfinite(gap)
    normal = vertex_normals(p, triangles)
    pairs = np.stack([loose[there], main[np.asarray(near)[there]]], axis=1)
    agree = np.sum(normal[pairs[:, 0]] * normal[pairs[:, 1]], axis=1) > 0.2
    return pairs[agree].astype(np.int32), np.asarray(gap)[there][agree]
