"""Spreading what is asked at some points of a surface smoothly over all of it. Follows: Sorkine et al., Laplacian surface editing, 2004."""

import numpy as np
from scipy import sparse
from scipy.sparse.linalg import splu

from ..laplacian import cotangent_laplacian


def stiffness_of(points: np.ndarray, triangles: np.ndarray) -> sparse.csc_matrix:
    """Return the `(n, n)` stiffness of a surface: bi-Laplacian for bending, a little Laplacian for stretch.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
    """
    laplacian, mass = cotangent_laplacian(points, triangles)
    scale = float(mass.mean())
    return (scale * (laplacian @ sparse.diags(1.0 / mass) @ laplacian) + 0.25 * laplacian).tocsc()


def smooth_field(stiffness: sparse.csc_matrix, weight: np.ndarray, target: np.ndarray) -> np.ndarray:
    """Return the field (n, k) nearest to `target` (n, k) where `weight` (n,) says so, and as smooth as `stiffness` asks.

    >>> points = np.array([[x, y, 0] for x in range(3) for y in range(2)], float)
    >>> faces = np.array([[0, 2, 1], [1, 2, 3], [2, 4, 3], [3, 4, 5]])
    >>> held = np.array([1e6, 1e6, 0, 0, 1e6, 1e6])
    >>> smooth_field(stiffness_of(points, faces), held, np.array([[0.0], [0], [9], [9], [2], [2]])).round(2).ravel()
    array([0.  , 0.  , 0.96, 1.04, 2.  , 2.  ])
    """
    system = (stiffness + sparse.diags(weight)).tocsc()
    factor = splu(system, permc_spec="MMD_AT_PLUS_A", options={"SymmetricMode": True}, diag_pivot_thresh=0.0)
    return factor.solve(weight[:, None] * target)
