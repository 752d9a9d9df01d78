"""Catmull-Clark subdivision of a quad mesh as one sparse matrix, so that any vertex attribute can ride it."""

import numpy as np
from scipy import sparse

from ..edges import unique_edges


def catmull_clark(quads: np.ndarray, vertex_count: int) -> tuple[sparse.csr_matrix, np.ndarray]:
    """Return `(S, fine_quads)`: `S @ x` refines any per-vertex array `x` of a quad mesh one level.

    `quads` is `(m, 4) int32`; `S` is `(v + e + m, v)` with rows that sum to 1. The old vertices keep their index (their
    new position differs), edge points follow, then face points. Quad `i` becomes quads `4i .. 4i + 3`.
    Follows: Catmull & Clark, Recursively generated B-spline surfaces, 1978; borders are cubic B-spline curves.

    Args:
        quads: (q, 4) int32.
        vertex_count: How many vertices there are.

    >>> refine, fine = catmull_clark(np.array([[0, 1, 2, 3]], np.int32), 4)
    >>> refine.shape, len(fine)
    ((9, 4), 4)
    >>> (refine @ np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]]))[8].tolist()  # the face's point is its middle
    [0.5, 0.5]
    """
    v, m = vertex_count, len(quads)
    edges, quad_edges = unique_edges(quads)
    e = len(edges)
    faces = sparse.csr_matrix(
        (np.full(4 * m, 0.25), (np.repeat(np.arange(m), 4), quads.ravel())), shape=(m, v)
    )
    edge_ends = sparse.csr_matrix(
        (np.full(2 * e, 0.5), (np.repeat(np.arange(e), 2), edges.ravel())), shape=(e, v)
    )
    edge_faces = sparse.csr_matrix(
        (np.full(4 * m, 0.5), (quad_edges.ravel(), np.repeat(np.arange(m), 4))), shape=(e, m)
    )
    border_edge = np.bincount(quad_edges.ravel(), minlength=e) == 1
    inner = sparse.diags(np.where(border_edge, 0.0, 1.0))
    edge_points = sparse.diags(np.where(border_edge, 1.0, 0.5)) @ edge_ends + 0.5 * (inner @ edge_faces @ faces)
    valence = np.bincount(edges.ravel(), minlength=v).astype(float)
    per_vertex = sparse.diags(1.0 / valence)
    face_mean = per_vertex @ sparse.csr_matrix(
        (np.ones(4 * m), (quads.ravel(), np.repeat(np.arange(m), 4))), shape=(v, m)
    ) @ faces
    edge_mean = per_vertex @ sparse.csr_matrix(
        (np.ones(2 * e), (edges.ravel(), np.repeat(np.arange(e), 2))), shape=(v, e)
    ) @ edge_ends
    old_points = per_vertex @ (face_mean + 2.0 * edge_mean) + sparse.diags((valence - 3.0) / valence)
    if border_edge.any():
        rim = edges[border_edge]
        on_rim = np.bincount(rim.ravel(), minlength=v) > 0
        across = sparse.csr_matrix((np.full(2 * len(rim), 0.125), (rim.ravel(), rim[:, ::-1].ravel())), shape=(v, v))
        curve = across + sparse.diags(np.full(v, 0.75))
        old_points = sparse.diags(np.where(on_rim, 0.0, 1.0)) @ old_points + sparse.diags(on_rim.astype(float)) @ curve
    refine = sparse.csr_matrix(sparse.vstack([old_points, edge_points, faces]))

    face_ids = v + e + np.arange(m)
    fine = np.empty((m, 4, 4), np.int32)
    for corner in range(4):
        fine[:, corner, 0] = quads[:, corner]
        fine[:, corner, 1] = v + quad_edges[:, corner]
        fine[:, corner, 2] = face_ids
        fine[:, corner, 3] = v + quad_edges[:, corner - 1]
    return refine, fine.reshape(-1, 4)
