"""A mesh thinned out: fewer faces over some of its own vertices, and the way back from where they go to where all of it goes."""

from functools import cached_property

import numpy as np
from scipy import sparse
from scipy.sparse.linalg import SuperLU, splu

from ...memo import Memo, Same
from ..edges import border_vertices, edge_lengths, unique_edges
from ..islands import islands
from ..normals import vertex_normals
from ..topology import topology_of
from .coarse_kernels import middles, spread


class Coarse:
    """Triangles (k, 3) over the vertices `rows` (r,) of a `fine` mesh's triangles (m, 3), numbered as in `rows`; `apart` (n,) is what does
    not hang together with them."""

    def __init__(self, fine: np.ndarray, apart: np.ndarray, rows: np.ndarray, triangles: np.ndarray) -> None:
        self.fine, self.apart, self.rows, self.triangles, self._count = fine, apart, rows, triangles, len(apart)

    def whole(self, at: np.ndarray, rest: np.ndarray) -> np.ndarray:
        """Return where the finer mesh (n, 3) lies when `rows` have gone to `at` (r, 3): as smooth as may be through them, but for what at
        `rest` (n, 3) stood out from so smooth a mesh, which stands out as far. What is `apart` stays at rest."""
        low, high = self._smooth(rest[self.rows], rest), self._smooth(at, rest)
        off = np.einsum("nka,na->nk", self._frames(low), rest - low)
        return high + np.einsum("nka,nk->na", self._frames(high), off)

    def _frames(self, points: np.ndarray) -> np.ndarray:
        """Return the way out of the surface, along it towards a neighbour, and across, (n, 3, 3) by rows."""
        near = topology_of(self.fine, self._count).near
        one = np.where(np.diff(near.indptr) > 0, near.indices[np.minimum(near.indptr[:-1], len(near.indices) - 1)], 0)
        out = vertex_normals(points, self.fine).astype(np.float64)
        along = points[one] - points
        along -= np.sum(along * out, axis=1)[:, None] * out
        along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-12)
        return np.stack([out, along, np.cross(out, along)], axis=1)

    def _smooth(self, at: np.ndarray, rest: np.ndarray) -> np.ndarray:
        free, factor, across = self._system
        out = rest.astype(np.float64)
        out[self.rows], out[free] = at, factor.solve(-(across @ at))
        return out

    @cached_property
    def _system(self) -> tuple[np.ndarray, SuperLU, sparse.csr_matrix]:
        bent = topology_of(self.fine, self._count).bilaplacian
        free = ~self.apart
        free[self.rows] = False
        free = np.flatnonzero(free)
        own = bent[free][:, free].tocsc()
        factor = splu(own, permc_spec="MMD_AT_PLUS_A", options={"SymmetricMode": True}, diag_pivot_thresh=0.0)
        return free, factor, bent[free][:, self.rows]


_KNOWN: Memo[Coarse | None] = Memo("coarse meshes", 128 * 2**20)
_SPREAD, _ROUNDS = 0.85, 2
"""Its places are at first at least so many times a side apart, then so often moved to the middle of what is nearest to them."""


def coarse_of(points: np.ndarray, triangles: np.ndarray, side: float) -> Coarse | None:
    """Return a mesh's largest island (n, 3), (m, 3) thinned out to edges of about `side` metres, as it was made if the same mesh was met
    lately; nothing where its own are not much shorter.

    Places are spread over it and moved to the middle of what lies nearest to them; faces whose corners are nearest to three of them join
    these. Follows: Valette & Chassery, Approximated centroidal Voronoi diagrams for uniform polygonal mesh coarsening, 2004.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        side: How long an edge is to be, metres.
    """
    return _KNOWN.of((Same(points), Same(triangles), side), lambda: _made(points, triangles, side))


def _made(points: np.ndarray, triangles: np.ndarray, side: float) -> Coarse | None:
    points, n = np.asarray(points, np.float64), len(points)
    _, label = islands(triangles, n)
    own = triangles[label[triangles[:, 0]] == 0]
    edges, _ = unique_edges(own)
    length = edge_lengths(points, edges)
    if not len(edges) or np.median(length) > 0.7 * side:
        return None
    graph = sparse.coo_matrix((np.tile(length, 2), (edges.T.ravel(), edges[:, ::-1].T.ravel())), (n, n)).tocsr()
    border, used = border_vertices(own, n), np.unique(own).astype(np.int64)
    far, nearest, ways = np.empty(n), np.full(n, -1), (graph.indptr, graph.indices, graph.data)
    rows = spread(*ways, used[np.argsort(~border[used], kind="stable")], _SPREAD * side, far, nearest)
    for _ in range(_ROUNDS):
        moved = np.empty_like(rows)
        middles(points, rows, nearest, border, moved)
        rows = spread(*ways, moved, 0.0, far, nearest)
    faces = nearest[own]
    faces = faces[(faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])]
    _, first = np.unique(np.sort(faces, axis=1), axis=0, return_index=True)
    kept, numbered = np.unique(faces[np.sort(first)], return_inverse=True)
    return Coarse(triangles, label != 0, rows[kept], numbered.reshape(-1, 3).astype(np.int32)) if len(kept) else None
