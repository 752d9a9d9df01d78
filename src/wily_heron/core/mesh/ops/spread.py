"""Spreading what is asked at some points of a surface smoothly over all of it. Follows: Sorkine et al., Laplacian surface editing, 2004."""

import numpy as np
from scipy import sparse
from scipy.sparse.linalg import splu

from ..laplacian import cotangent_laplacian


def stiffness_of(points: np.ndarray, triangles: np.ndarray) -> sparse.csc_matrix:
    """Return the `(n, n)` stiffness of a surface: bi-Laplacian for bending, a little Laplacian for stretch."""
    laplacian, mass = cotangent_laplacian(points, triangles)
    scale = float(mass.mean())
    return (scale * (laplacian @ sparse.diags(1.0 / mass) @ laplacian) + 0.25 * laplacian).tocsc()


def spread(stiffness: sparse.csc_matrix, weight: np.ndarray, target: np.ndarray) -> np.ndarray:
    """Return the field (n, k) nearest to `target` (n, k) where `weight` (n,) says so, and as smooth as `stiffness` asks."""
    system = (stiffness + sparse.diags(weight)).tocsc()
    factor = splu(system, permc_spec="MMD_AT_PLUS_A", options={"SymmetricMode": True}, diag_pivot_thresh=0.0)
    return factor.solve(weight[:, None] * target)
