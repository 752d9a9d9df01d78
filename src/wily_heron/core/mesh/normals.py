"""Normals and areas of triangle meshes."""

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def _accumulate(points, triangles, out):
    for t in range(triangles.shape[0]):
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        ux, uy, uz = points[b, 0] - points[a, 0], points[b, 1] - points[a, 1], points[b, 2] - points[a, 2]
        vx, vy, vz = points[c, 0] - points[a, 0], points[c, 1] - points[a, 1], points[c, 2] - points[a, 2]
        nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        for i in (a, b, c):
            out[i, 0] += nx
            out[i, 1] += ny
            out[i, 2] += nz
    for i in range(out.shape[0]):
        length = np.sqrt(out[i, 0] ** 2 + out[i, 1] ** 2 + out[i, 2] ** 2)
        if length > 1e-30:
            out[i, 0] /= length
            out[i, 1] /= length
            out[i, 2] /= length


def vertex_normals(points: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return unit area-weighted normals `(n, 3) float64` of points `(n, 3)` and triangles `(m, 3)`; zero where unused.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.

    >>> vertex_normals(np.array([[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0]]), np.array([[0, 1, 2]]))[0].tolist()
    [0.0, 0.0, 1.0]
    """
    out = np.zeros((len(points), 3))
    _accumulate(np.ascontiguousarray(points, np.float64), np.ascontiguousarray(triangles, np.int32), out)
    return out


@njit(cache=True, nogil=True)
def triangle_areas(points, triangles):
    """Return the areas `(m,)` of triangles (m, 3) of points (n, 3), in the square of their unit.

    >>> triangle_areas(np.array([[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0]]), np.array([[0, 1, 2]], np.int32)).tolist()
    [0.5]
    """
    out = np.empty(len(triangles))
    for t in range(len(triangles)):
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        ux, uy, uz = points[b, 0] - points[a, 0], points[b, 1] - points[a, 1], points[b, 2] - points[a, 2]
        vx, vy, vz = points[c, 0] - points[a, 0], points[c, 1] - points[a, 1], points[c, 2] - points[a, 2]
        nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        out[t] = 0.5 * np.sqrt(nx * nx + ny * ny + nz * nz)
    return out


def triangle_normals(points: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return unit normals `(m, 3)` of the triangles; zero for degenerate ones.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.

    >>> triangle_normals(np.array([[0.0, 0.0, 0.0], [2.0, 0.0, 0.0], [0.0, 1.0, 0.0]]), np.array([[0, 1, 2], [0, 1, 1]])).tolist()
    [[0.0, 0.0, 1.0], [0.0, 0.0, 0.0]]
    """
    corner = np.asarray(points, np.float64)[triangles]
    n = np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0])
    return n / np.maximum(np.linalg.norm(n, axis=1, keepdims=True), 1e-30)
