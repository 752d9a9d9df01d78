"""Cotangent Laplacian and lumped mass of a triangle mesh."""

import numpy as np
from scipy import sparse

from .edges import adjacency


def cotangent_laplacian(points: np.ndarray, triangles: np.ndarray) -> tuple[sparse.csr_matrix, np.ndarray]:
    """Return `(L, mass)`: positive semi-definite `(n, n)` stiffness and `(n,)` lumped areas in m2.

    Cotangents are clamped to [0.02, 20] so that slivers and obtuse pairs keep all off-diagonal entries non-positive.
    Follows: Pinkall & Polthier, Computing discrete minimal surfaces and their conjugates, 1993 (clamping is ours).
    """
    p = np.asarray(points, np.float64)
    n = len(p)
    rows, cols, values = [], [], []
    mass = np.zeros(n)
    corner = p[triangles]
    double_area = np.linalg.norm(np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]), axis=1)
    for k in range(3):
        i, j, o = triangles[:, k], triangles[:, (k + 1) % 3], triangles[:, (k + 2) % 3]
        a, b = p[i] - p[o], p[j] - p[o]
        cot = np.clip(np.sum(a * b, axis=1) / np.maximum(double_area, 1e-14), 0.02, 20.0) / 2
        rows += [i, j]
        cols += [j, i]
        values += [-cot, -cot]
        np.add.at(mass, i, double_area / 6)
    off = sparse.csr_matrix((np.concatenate(values), (np.concatenate(rows), np.concatenate(cols))), shape=(n, n))
    return (off - sparse.diags(np.asarray(off.sum(axis=1)).ravel())).tocsr(), np.maximum(mass, 1e-12)


def uniform_laplacian(triangles: np.ndarray, vertex_count: int) -> sparse.csr_matrix:
    """Return `(n, n)` with `(L x)_i` = x_i minus the mean of its neighbours (0 for lone vertices)."""
    near = adjacency(triangles, vertex_count)
    degree = np.asarray(near.sum(axis=1)).ravel()
    scale = sparse.diags(1.0 / np.maximum(degree, 1.0))
    return (sparse.diags((degree > 0).astype(float)) - scale @ near).tocsr()
