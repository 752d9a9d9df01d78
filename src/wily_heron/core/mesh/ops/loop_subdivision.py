"""Loop subdivision of a triangle mesh as one sparse matrix, so that any vertex attribute can ride it."""

import numpy as np
from scipy import sparse

from ..edges import unique_edges


def loop_subdivision(triangles: np.ndarray, vertex_count: int) -> tuple[sparse.csr_matrix, np.ndarray]:
    """Return `(S, fine)`: `S @ x` refines any per-vertex array `x` (v, ...) of a mesh (m, 3) one level.

    `S` is `(v + e, v)` with rows that sum to 1 and are nowhere below 0. The old vertices keep their index, edge points follow. Triangle `i`
    becomes triangles `4i .. 4i + 3`, its corners first, its middle last. Where more than two faces meet, the edge counts as a border.
    Follows: Loop, Smooth subdivision surfaces based on triangles, 1987, with Warren's weights; borders are cubic B-spline curves.

    Args:
        triangles: (m, 3) int32.
        vertex_count: How many vertices there are.

    >>> refine, fine = loop_subdivision(np.array([[0, 1, 2]], np.int32), 3)
    >>> refine.shape, len(fine)
    ((6, 3), 4)
    """
    v = vertex_count
    edges, sides = unique_edges(triangles)
    e = len(edges)
    border = np.bincount(sides.ravel(), minlength=e) != 2
    opposite = sparse.csr_matrix((np.full(triangles.size, 0.125), (sides.ravel(), np.roll(triangles, 1, axis=1).ravel())), shape=(e, v))
    ends = sparse.csr_matrix((np.ones(2 * e), (np.repeat(np.arange(e), 2), edges.ravel())), shape=(e, v))
    middles = sparse.diags(np.where(border, 0.5, 0.375)) @ ends + sparse.diags(np.where(border, 0.0, 1.0)) @ opposite
    valence = np.bincount(edges.ravel(), minlength=v)
    beta = np.where(valence == 3, 3.0 / 16.0, 3.0 / (8.0 * np.maximum(valence, 1)))
    near = sparse.csr_matrix((np.ones(2 * e), (edges.ravel(), edges[:, ::-1].ravel())), shape=(v, v))
    rim = edges[border]
    along = sparse.csr_matrix((np.ones(2 * len(rim)), (rim.ravel(), rim[:, ::-1].ravel())), shape=(v, v))
    on_rim = np.bincount(rim.ravel(), minlength=v)
    smooth = on_rim == 2
    inner = on_rim == 0
    own = np.where(inner, 1.0 - valence * beta, np.where(smooth, 0.75, 1.0))  # where borders meet the corner stays
    old = sparse.diags(own) + sparse.diags(np.where(inner, beta, 0.0)) @ near + sparse.diags(np.where(smooth, 0.125, 0.0)) @ along
    a, b, c = triangles.T
    ab, bc, ca = (v + sides).T
    fine = np.stack([[a, ab, ca], [b, bc, ab], [c, ca, bc], [ab, bc, ca]]).transpose(2, 0, 1).reshape(-1, 3)
    return sparse.csr_matrix(sparse.vstack([old, middles])), np.ascontiguousarray(fine, np.int32)
