"""A layer at rest, as covers are judged by it, and how far its cloth lies from its open border."""

import hashlib
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import connected_components, dijkstra

from ...mesh.islands import islands
from ...mesh.normals import vertex_normals
from ...mesh.topology import Topology, topology_of
from ...space.tree import TriangleTree
from ...space.tree_memo import tree_on

BORDER = 0.03
"""So far from an open border (metres) nothing is said to belong under cloth, or half the width of the part."""
EYELET = 0.06
"""A hole is an opening from so far round (metres)."""


@dataclass(frozen=True)
class RestLayer:
    """A layer at rest: points (n, 3) in metres and the triangles (m, 3) of it that count."""

    points: np.ndarray
    triangles: np.ndarray

    @cached_property
    def digest(self) -> bytes:
        """A digest of both arrays."""
        hasher = hashlib.blake2b(digest_size=20)
        for array in (self.points, self.triangles):
            hasher.update(f"{array.shape}{array.dtype}".encode())
            hasher.update(np.ascontiguousarray(array).data)
        return hasher.digest()

    @cached_property
    def tree(self) -> TriangleTree:
        """A tree over its triangles."""
        return tree_on(self.points, self.triangles)

    @cached_property
    def normals(self) -> np.ndarray:
        """The unit normals of its vertices (n, 3)."""
        return vertex_normals(self.points, self.triangles)

    @cached_property
    def room(self) -> np.ndarray:
        """How far each vertex (n,) lies from the layer's open border, less the margin, in metres."""
        return border_room(self.points, self.triangles)


def border_room(points: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return `(m,)` metres along the edges from the open border less min(3 cm, half the width of the part); inf if closed.

    Holes less than 6 cm round (an eyelet, an open tip) are no openings: what comes out of them shows through.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
    """
    n = len(points)
    topology = topology_of(triangles, n)
    rim, edges = np.flatnonzero(topology.border & ~_eyelets(points, topology)), topology.edges
    if not len(rim):
        return np.full(n, np.inf)
    length = np.linalg.norm(points[edges[:, 0]] - points[edges[:, 1]], axis=1).astype(np.float64) + 1e-9
    graph = sparse.csr_matrix((np.r_[length, length], (np.r_[edges[:, 0], edges[:, 1]], np.r_[edges[:, 1], edges[:, 0]])), shape=(n, n))
    along = dijkstra(graph, indices=rim, min_only=True)
    count, label = islands(triangles, n)
    reach = np.zeros(count)
    finite = np.isfinite(along)
    np.maximum.at(reach, label[finite], along[finite])
    return np.where(finite, along - np.minimum(BORDER, 0.5 * reach[label]), np.inf)


def _eyelets(points: np.ndarray, topology: Topology) -> np.ndarray:
    """Return `(n,) bool`: the border vertices of holes that are less than 6 cm round, in parts that have a larger opening."""
    n = len(points)
    edges = topology.border_edges
    graph = sparse.csr_matrix((np.ones(len(edges)), (edges[:, 0], edges[:, 1])), shape=(n, n))
    _, loop = connected_components(graph, directed=False)
    round_ = np.bincount(loop[edges[:, 0]], np.linalg.norm(points[edges[:, 0]] - points[edges[:, 1]], axis=1), n)
    part = islands(topology.triangles, n)[1]
    widest = np.zeros(part.max(initial=0) + 1)
    np.maximum.at(widest, part[edges[:, 0]], round_[loop[edges[:, 0]]])
    return topology.border & (round_[loop] < EYELET) & (widest[part] >= EYELET)
