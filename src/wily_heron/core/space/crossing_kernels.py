# Numba gives intrinsics their first argument itself:
# pyright: reportCallIssue=false
"""Which edges go through which triangles, of the same mesh or of another."""

import numpy as np
from numba import njit

from .simd8 import box_overlaps, first_lane, triangle_hits


@njit(cache=True, nogil=True)
def crossings(points, edges, triangles, own, order, kids, boxes, leaves, pairs, most):
    """Write to `pairs` (p, 2) which edge (e, 2) of points (n, 3) goes through which triangle, as many as there is room for, and return how
    many there are, and how many edges were asked before `most` leaves of the tree had been looked into.

    With `own` the `triangles` (m, 3) are of the same points: those that share a corner with the edge do not count, nor do touches."""
    stack, far, count, looked = np.empty(256, np.int64), np.empty(8), 0, 0
    for e in range(edges.shape[0]):
        if looked >= most:
            return count, e
        i, j = edges[e, 0], edges[e, 1]
        ox, oy, oz = points[i, 0], points[i, 1], points[i, 2]
        px, py, pz = points[j, 0], points[j, 1], points[j, 2]
        lx, ly, lz = np.float32(min(ox, px)), np.float32(min(oy, py)), np.float32(min(oz, pz))
        ux, uy, uz = np.float32(max(ox, px)), np.float32(max(oy, py)), np.float32(max(oz, pz))
        top = 0
        stack[0] = 0
        while top >= 0:
            node = stack[top]
            top -= 1
            if node >= 0:
                bits = box_overlaps(boxes, node, lx, ly, lz, ux, uy, uz)
                while bits:
                    top += 1
                    stack[top] = kids[node, first_lane(bits)]
                    bits &= bits - 1
                continue
            looked += 1
            bits = triangle_hits(leaves, -1 - node, ox, oy, oz, px - ox, py - oy, pz - oz, 1.0, far)
            while bits:
                t = order[-1 - node, first_lane(bits)]
                bits &= bits - 1
                if not own or _well_through(points, i, j, triangles[t, 0], triangles[t, 1], triangles[t, 2]):
                    if count < pairs.shape[0]:
                        pairs[count, 0], pairs[count, 1] = e, t
                    count += 1
    return count, edges.shape[0]


@njit(cache=True, nogil=True)
def _well_through(points, i, j, a, b, c):
    # whether the edge from i to j passes through the triangle a, b, c by more than a millionth of its own length and of its sides
    if a == i or b == i or c == i or a == j or b == j or c == j:
        return False
    dx, dy, dz = points[j, 0] - points[i, 0], points[j, 1] - points[i, 1], points[j, 2] - points[i, 2]
    ax, ay, az = points[b, 0] - points[a, 0], points[b, 1] - points[a, 1], points[b, 2] - points[a, 2]
    bx, by, bz = points[c, 0] - points[a, 0], points[c, 1] - points[a, 1], points[c, 2] - points[a, 2]
    hx, hy, hz = dy * bz - dz * by, dz * bx - dx * bz, dx * by - dy * bx
    det = ax * hx + ay * hy + az * hz
    size = np.sqrt((ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz) * (dx * dx + dy * dy + dz * dz))
    if abs(det) < 1e-9 * size:
        return False
    sx, sy, sz = points[i, 0] - points[a, 0], points[i, 1] - points[a, 1], points[i, 2] - points[a, 2]
    gx, gy, gz = sy * az - sz * ay, sz * ax - sx * az, sx * ay - sy * ax
    u, v, s = (sx * hx + sy * hy + sz * hz) / det, (dx * gx + dy * gy + dz * gz) / det, (bx * gx + by * gy + bz * gz) / det
    return 1e-6 < u < 1.0 - 1e-6 and 1e-6 < v and u + v < 1.0 - 1e-6 and 1e-6 < s < 1.0 - 1e-6
