"""Cotangents of a triangle mesh. Loops over plain arrays."""

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def cotangents(points, triangles, half, area):
    """Fill `half` (m, 3) with half the clamped cotangent at each corner, and add thirds of the faces' areas to `area` (n,)."""
    for t in range(len(triangles)):
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        ux, uy, uz = points[b, 0] - points[a, 0], points[b, 1] - points[a, 1], points[b, 2] - points[a, 2]
        vx, vy, vz = points[c, 0] - points[a, 0], points[c, 1] - points[a, 1], points[c, 2] - points[a, 2]
        nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        double = max(np.sqrt(nx * nx + ny * ny + nz * nz), 1e-14)
        wx, wy, wz = vx - ux, vy - uy, vz - uz
        dots = (ux * vx + uy * vy + uz * vz, -(ux * wx + uy * wy + uz * wz), vx * wx + vy * wy + vz * wz)
        for k in range(3):
            half[t, k] = min(max(dots[k] / double, 0.02), 20.0) / 2
            area[triangles[t, k]] += double / 6
