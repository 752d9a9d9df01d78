# Numba gives intrinsics their first argument itself:
# pyright: reportCallIssue=false
"""Which triangles are pierced by which edges, of the same mesh or of another."""

import numpy as np
from numba import njit

from .eight import box_overlaps, first_lane, triangle_hits


@njit(cache=True, nogil=True)
def pierced(points, edges, triangles, order, kids, boxes, leaves, mark):
    """Set `mark` (m,) where an edge (e, 2) that shares no corner with the triangle goes through it."""
    stack, far = np.empty(256, np.int64), np.empty(8)
    for e in range(edges.shape[0]):
        i, j = edges[e, 0], edges[e, 1]
        ox, oy, oz = points[i, 0], points[i, 1], points[i, 2]
        dx, dy, dz = points[j, 0] - ox, points[j, 1] - oy, points[j, 2] - oz
        lx, ly, lz = np.float32(min(ox, ox + dx)), np.float32(min(oy, oy + dy)), np.float32(min(oz, oz + dz))
        ux, uy, uz = np.float32(max(ox, ox + dx)), np.float32(max(oy, oy + dy)), np.float32(max(oz, oz + dz))
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
            bits = triangle_hits(leaves, -1 - node, ox, oy, oz, dx, dy, dz, 1.0, far)
            while bits:
                t = order[-1 - node, first_lane(bits)]
                bits &= bits - 1
                a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
                if mark[t] or a == i or b == i or c == i or a == j or b == j or c == j:
                    continue
                ax, ay, az = points[b, 0] - points[a, 0], points[b, 1] - points[a, 1], points[b, 2] - points[a, 2]
                bx, by, bz = points[c, 0] - points[a, 0], points[c, 1] - points[a, 1], points[c, 2] - points[a, 2]
                hx, hy, hz = dy * bz - dz * by, dz * bx - dx * bz, dx * by - dy * bx
                det = ax * hx + ay * hy + az * hz
                size = np.sqrt((ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz) * (dx * dx + dy * dy + dz * dz))
                if abs(det) < 1e-9 * size:
                    continue
                sx, sy, sz = ox - points[a, 0], oy - points[a, 1], oz - points[a, 2]
                u = (sx * hx + sy * hy + sz * hz) / det
                if u < 1e-6 or u > 1.0 - 1e-6:
                    continue
                gx, gy, gz = sy * az - sz * ay, sz * ax - sx * az, sx * ay - sy * ax
                v = (dx * gx + dy * gy + dz * gz) / det
                if v < 1e-6 or u + v > 1.0 - 1e-6:
                    continue
                s = (bx * gx + by * gy + bz * gz) / det
                if 1e-6 < s < 1.0 - 1e-6:
                    mark[t] = True


@njit(cache=True, nogil=True)
def crossed(points, edges, order, kids, boxes, leaves, edge_mark, mark):
    """Set `edge_mark` (e,) where an edge (e, 2) of points (n, 3) goes through a triangle of another mesh, and `mark` (m,) of that."""
    stack, far = np.empty(256, np.int64), np.empty(8)
    for e in range(edges.shape[0]):
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
            bits = box_overlaps(boxes, node, lx, ly, lz, ux, uy, uz) if node >= 0 else triangle_hits(
                leaves, -1 - node, ox, oy, oz, px - ox, py - oy, pz - oz, 1.0, far)
            while bits:
                k = first_lane(bits)
                bits &= bits - 1
                if node >= 0:
                    top += 1
                    stack[top] = kids[node, k]
                else:
                    mark[order[-1 - node, k]] = edge_mark[e] = True
