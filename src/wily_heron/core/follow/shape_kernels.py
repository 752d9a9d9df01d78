"""How the skin turns with its shapes, and how far a piece stands off it. Loops over plain arrays."""

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def turns(points, triangles, faces, slot, deltas, out):
    """Add to `out` (c, s, 3) the rotation vector of the skin about each wanted vertex, for each shape's `deltas` (s, n, 3) at full
    strength, summed over its `faces` by area. `slot` (n,) is a vertex's row in `out`, -1 for none.

    To first order: the tilt of the face's normal, and half the curl of the move within the face.
    """
    shapes = deltas.shape[0]
    g = np.empty((3, 3))
    jac = np.empty((3, 3))
    for f in range(len(faces)):
        a, b, c = triangles[faces[f], 0], triangles[faces[f], 1], triangles[faces[f], 2]
        ux, uy, uz = points[b, 0] - points[a, 0], points[b, 1] - points[a, 1], points[b, 2] - points[a, 2]
        vx, vy, vz = points[c, 0] - points[a, 0], points[c, 1] - points[a, 1], points[c, 2] - points[a, 2]
        nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        double = np.sqrt(nx * nx + ny * ny + nz * nz)
        if double < 1e-12:
            continue
        nx, ny, nz = nx / double, ny / double, nz / double
        wx, wy, wz = vx - ux, vy - uy, vz - uz  # gradients of the barycentric coordinates: n x opposite edge / double area
        g[0, 0], g[0, 1], g[0, 2] = (ny * wz - nz * wy) / double, (nz * wx - nx * wz) / double, (nx * wy - ny * wx) / double
        g[1, 0], g[1, 1], g[1, 2] = -(ny * vz - nz * vy) / double, -(nz * vx - nx * vz) / double, -(nx * vy - ny * vx) / double
        g[2, 0], g[2, 1], g[2, 2] = (ny * uz - nz * uy) / double, (nz * ux - nx * uz) / double, (nx * uy - ny * ux) / double
        for s in range(shapes):
            for i in range(3):
                for k in range(3):
                    jac[i, k] = deltas[s, a, i] * g[0, k] + deltas[s, b, i] * g[1, k] + deltas[s, c, i] * g[2, k]
            tx = -(jac[0, 0] * nx + jac[1, 0] * ny + jac[2, 0] * nz)  # how the normal moves
            ty = -(jac[0, 1] * nx + jac[1, 1] * ny + jac[2, 1] * nz)
            tz = -(jac[0, 2] * nx + jac[1, 2] * ny + jac[2, 2] * nz)
            spin = 0.5 * ((jac[2, 1] - jac[1, 2]) * nx + (jac[0, 2] - jac[2, 0]) * ny + (jac[1, 0] - jac[0, 1]) * nz)
            rx = ny * tz - nz * ty + spin * nx
            ry = nz * tx - nx * tz + spin * ny
            rz = nx * ty - ny * tx + spin * nz
            for v in (a, b, c):
                if slot[v] >= 0:
                    out[slot[v], s, 0] += double * rx
                    out[slot[v], s, 1] += double * ry
                    out[slot[v], s, 2] += double * rz


@njit(cache=True, nogil=True)
def stands_off(points, skin, corners, where, out, way):
    """Fill `out` (n,) with how far each point stands over the plane of its own face of skin, and `way` (n, 3) with that face's normal."""
    for i in range(len(points)):
        a, b, c = corners[i, 0], corners[i, 1], corners[i, 2]
        ux, uy, uz = skin[b, 0] - skin[a, 0], skin[b, 1] - skin[a, 1], skin[b, 2] - skin[a, 2]
        vx, vy, vz = skin[c, 0] - skin[a, 0], skin[c, 1] - skin[a, 1], skin[c, 2] - skin[a, 2]
        nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        size = max(np.sqrt(nx * nx + ny * ny + nz * nz), 1e-14)
        nx, ny, nz = nx / size, ny / size, nz / size
        gap = 0.0
        for k in range(3):
            s = 0.0
            for j in range(3):
                s += where[i, j] * skin[corners[i, j], k]
            gap += (points[i, k] - s) * (nx if k == 0 else ny if k == 1 else nz)
        out[i] = gap
        way[i, 0], way[i, 1], way[i, 2] = nx, ny, nz
