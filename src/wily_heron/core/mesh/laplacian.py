"""Cotangent Laplacian and lumped mass of a triangle mesh."""

import numpy as np
from scipy import sparse

from .edges import adjacency
from .laplacian_kernels import cotangents


def cotangent_laplacian(points: np.ndarray, triangles: np.ndarray) -> tuple[sparse.csr_matrix, np.ndarray]:
    """Return `(L, mass)`: positive semi-definite `(n, n)` stiffness and `(n,)` lumped areas in m2.

    Cotangents are clamped to [0.02, 20] so that slivers and obtuse pairs keep all off-diagonal entries non-positive.
    Follows: Pinkall & Polthier, Computing discrete minimal surfaces and their conjugates, 1993 (clamping is ours).

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.

    >>> square = np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], float)
    >>> stiffness, mass = cotangent_laplacian(square, np.array([[0, 1, 2], [0, 2, 3]], np.int32))
    >>> round(float(mass.sum()), 9), bool(np.allclose(stiffness @ np.ones(4), 0.0))
    (1.0, True)
    """
    n = len(points)
    half, mass = np.empty((len(triangles), 3)), np.zeros(n)
    cotangents(np.ascontiguousarray(points, np.float64), triangles, half, mass)
    a, b, c = triangles.T
    rows, cols = np.concatenate([b, c, a]), np.concatenate([c, a, b])  # the edge across each corner
    values = half.T.ravel()
    whole = np.bincount(rows, values, n) + np.bincount(cols, values, n)
    every = np.arange(n)
    laplacian = sparse.csr_matrix((np.concatenate([-values, -values, whole]), (np.concatenate([rows, cols, every]),
                                                                              np.concatenate([cols, rows, every]))), shape=(n, n))
    return laplacian, np.maximum(mass, 1e-12)


def uniform_laplacian(triangles: np.ndarray, vertex_count: int) -> sparse.csr_matrix:
    """Return `(n, n)` with `(L x)_i` = x_i minus the mean of its neighbours (0 for lone vertices).

    Args:
        triangles: (m, 3) int32.
        vertex_count: How many vertices there are.

    >>> uniform = uniform_laplacian(np.array([[0, 1, 2]], np.int32), 4)
    >>> (uniform @ np.array([3.0, 1.0, 1.0, 9.0])).tolist()
    [2.0, -1.0, -1.0, 0.0]
    """
    near = adjacency(triangles, vertex_count)
    degree = np.asarray(near.sum(axis=1)).ravel()
    scale = sparse.diags(1.0 / np.maximum(degree, 1.0))
    return sparse.csr_matrix(sparse.diags((degree > 0).astype(float)) - scale @ near)
