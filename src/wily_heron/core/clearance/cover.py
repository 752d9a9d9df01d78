"""Which points of an under-layer belong under the over-layer, judged at rest; and how far cloth lies from its open border."""

from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import dijkstra

from ..mesh.edges import border_vertices, unique_edges
from ..mesh.islands import islands
from ..mesh.normals import vertex_normals
from ..space.tree_memo import tree_on

OUT, UNDER, BORDER = 0.15, 0.04, 0.03
AGREE = 0.2


@dataclass(frozen=True)
class Cover:
    """`covered` (n,) under-layer vertices that belong under, each at `spot` (n, 3) of the over-layer's `rest` points (m, 3).


    `border` (m,) is the distance along the cloth to its open border less the margin asked for (3 cm, or half the part's width).
    `outward` is +1 or -1: which side of the over-layer's faces is its outside.
    """

    covered: np.ndarray
    spot: np.ndarray
    rest: np.ndarray
    border: np.ndarray
    outward: float


def border_room(points: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return `(m,)` metres along the edges from the open border less min(3 cm, half the width of the part); inf if closed."""
    n = len(points)
    rim = np.flatnonzero(border_vertices(triangles, n))
    if not len(rim):
        return np.full(n, np.inf)
    edges, _ = unique_edges(triangles)
    length = np.linalg.norm(points[edges[:, 0]] - points[edges[:, 1]], axis=1).astype(np.float64) + 1e-9
    graph = sparse.csr_matrix((np.r_[length, length], (np.r_[edges[:, 0], edges[:, 1]], np.r_[edges[:, 1], edges[:, 0]])), shape=(n, n))
    along = dijkstra(graph, indices=rim, min_only=True)
    count, label = islands(triangles, n)
    reach = np.zeros(count)
    finite = np.isfinite(along)
    np.maximum.at(reach, label[finite], along[finite])
    return np.where(finite, along - np.minimum(BORDER, 0.5 * reach[label]), np.inf)


def cover(under: np.ndarray, under_triangles: np.ndarray, over: np.ndarray, over_triangles: np.ndarray) -> Cover:
    """Return what of `under` (n, 3) belongs under `over` (m, 3) at rest.

    A vertex belongs under when a ray outwards meets the over-layer's inner side within 15 cm, or when the over-layer already
    lies under it within 4 cm, facing the same way. Rays that meet the last centimetres before an open border do not count.
    """
    tree = tree_on(over, over_triangles)
    normal = vertex_normals(under, under_triangles)
    room = border_room(over, over_triangles)
    triangle_room = room[over_triangles].mean(axis=1)
    near = tree.nearest(under)
    agree = np.sum(tree.normals[near.triangle] * normal, axis=1)
    close = near.distance < OUT
    outward = 1.0 if not close.any() or np.median(agree[close]) >= 0 else -1.0
    distance, hit = tree.first_hits(under + 1e-6 * normal, normal, OUT)
    met = hit >= 0
    inner = outward * np.sum(tree.normals[np.maximum(hit, 0)] * normal, axis=1) > AGREE
    above = met & inner & (triangle_room[np.maximum(hit, 0)] > 0)
    behind = np.sum((under - near.point) * tree.normals[near.triangle], axis=1) * outward > 0
    sunk = (near.distance < UNDER) & behind & (outward * agree > AGREE) & (triangle_room[near.triangle] > 0)
    spot = np.where(above[:, None], under + np.where(met, distance, 0.0)[:, None] * normal, near.point)
    return Cover(above | sunk, spot, np.asarray(over, np.float64), np.minimum(room, 10.0), outward)
