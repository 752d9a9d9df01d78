"""A tree of boxes over triangles: build once, refit per pose; closest point and ray queries. Loops over plain arrays."""

import numpy as np
from numba import njit

LEAF = 4


@njit(cache=True, nogil=True)
def build(centres, order, first, count, left):
    """Split `order` (m,) by the median of the widest axis into nodes; returns the number of nodes. Children follow parents."""
    nodes = 1
    first[0], count[0], left[0] = 0, order.shape[0], -1
    node = 0
    while node < nodes:
        start, n = first[node], count[node]
        if n > LEAF:
            lo, hi = np.full(3, 1e30), np.full(3, -1e30)
            for k in range(start, start + n):
                for a in range(3):
                    x = centres[order[k], a]
                    lo[a], hi[a] = min(lo[a], x), max(hi[a], x)
            axis = 0
            if hi[1] - lo[1] > hi[axis] - lo[axis]:
                axis = 1
            if hi[2] - lo[2] > hi[axis] - lo[axis]:
                axis = 2
            part = order[start:start + n]
            part[:] = part[np.argsort(centres[part, axis])]
            half = n // 2
            left[node] = nodes
            first[nodes], count[nodes], left[nodes] = start, half, -1
            first[nodes + 1], count[nodes + 1], left[nodes + 1] = start + half, n - half, -1
            nodes += 2
        node += 1
    return nodes


@njit(cache=True, nogil=True)
def refit(points, triangles, order, first, count, left, lo, hi):
    """Fill the boxes `lo`, `hi` (k, 3) for the present `points`."""
    for node in range(lo.shape[0] - 1, -1, -1):
        if left[node] < 0:
            for a in range(3):
                lo[node, a], hi[node, a] = 1e30, -1e30
            for k in range(first[node], first[node] + count[node]):
                for c in range(3):
                    v = triangles[order[k], c]
                    for a in range(3):
                        x = points[v, a]
                        if x < lo[node, a]:
                            lo[node, a] = x
                        if x > hi[node, a]:
                            hi[node, a] = x
        else:
            i, j = left[node], left[node] + 1
            for a in range(3):
                lo[node, a] = min(lo[i, a], lo[j, a])
                hi[node, a] = max(hi[i, a], hi[j, a])


@njit(cache=True, nogil=True)
def _closest_on_triangle(px, py, pz, a, b, c, bary):
    # Ericson, Real-Time Collision Detection, 2005, section 5.1.5
    abx, aby, abz = b[0] - a[0], b[1] - a[1], b[2] - a[2]
    acx, acy, acz = c[0] - a[0], c[1] - a[1], c[2] - a[2]
    apx, apy, apz = px - a[0], py - a[1], pz - a[2]
    d1, d2 = abx * apx + aby * apy + abz * apz, acx * apx + acy * apy + acz * apz
    if d1 <= 0 and d2 <= 0:
        bary[0], bary[1], bary[2] = 1.0, 0.0, 0.0
    else:
        bpx, bpy, bpz = px - b[0], py - b[1], pz - b[2]
        d3, d4 = abx * bpx + aby * bpy + abz * bpz, acx * bpx + acy * bpy + acz * bpz
        cpx, cpy, cpz = px - c[0], py - c[1], pz - c[2]
        d5, d6 = abx * cpx + aby * cpy + abz * cpz, acx * cpx + acy * cpy + acz * cpz
        vc, vb, va = d1 * d4 - d3 * d2, d5 * d2 - d1 * d6, d3 * d6 - d5 * d4
        if d3 >= 0 and d4 <= d3:
            bary[0], bary[1], bary[2] = 0.0, 1.0, 0.0
        elif vc <= 0 and d1 >= 0 and d3 <= 0:
            v = d1 / (d1 - d3)
            bary[0], bary[1], bary[2] = 1 - v, v, 0.0
        elif d6 >= 0 and d5 <= d6:
            bary[0], bary[1], bary[2] = 0.0, 0.0, 1.0
        elif vb <= 0 and d2 >= 0 and d6 <= 0:
            w = d2 / (d2 - d6)
            bary[0], bary[1], bary[2] = 1 - w, 0.0, w
        elif va <= 0 and d4 - d3 >= 0 and d5 - d6 >= 0:
            w = (d4 - d3) / ((d4 - d3) + (d5 - d6))
            bary[0], bary[1], bary[2] = 0.0, 1 - w, w
        else:
            s = va + vb + vc
            if s == 0.0:
                bary[0], bary[1], bary[2] = 1.0, 0.0, 0.0
            else:
                bary[0], bary[1], bary[2] = va / s, vb / s, vc / s
    dx = px - (bary[0] * a[0] + bary[1] * b[0] + bary[2] * c[0])
    dy = py - (bary[0] * a[1] + bary[1] * b[1] + bary[2] * c[1])
    dz = pz - (bary[0] * a[2] + bary[1] * b[2] + bary[2] * c[2])
    return dx * dx + dy * dy + dz * dz


@njit(cache=True, nogil=True)
def _box_gap(px, py, pz, lo, hi):
    d = 0.0
    x = max(lo[0] - px, px - hi[0], 0.0)
    d += x * x
    x = max(lo[1] - py, py - hi[1], 0.0)
    d += x * x
    x = max(lo[2] - pz, pz - hi[2], 0.0)
    return d + x * x


@njit(cache=True, nogil=True)
def closest(queries, facing, agree, limit, points, triangles, normals, order, first, count, left, lo, hi, hit, where, gap):
    """Nearest triangle of each query (q, 3): `hit` (q,), barycentric `where` (q, 3), distance `gap` (q,).

    With `agree` > -1 only triangles whose unit `normals` make at least that cosine with `facing` (q, 3) count; none within
    `limit` (q,) metres leaves hit = -1. Neighbouring queries mostly lie on neighbouring triangles, so each begins at the last one's.
    """
    stack = np.empty(128, np.int64)
    bary = np.empty(3)
    last = -1
    for q in range(queries.shape[0]):
        px, py, pz = queries[q, 0], queries[q, 1], queries[q, 2]
        best = limit[q] * limit[q]
        hit[q] = -1
        if last >= 0 and (agree <= -1.0 or normals[last, 0] * facing[q, 0] + normals[last, 1] * facing[q, 1]
                          + normals[last, 2] * facing[q, 2] >= agree):
            d = _closest_on_triangle(px, py, pz, points[triangles[last, 0]], points[triangles[last, 1]], points[triangles[last, 2]], bary)
            if d < best:
                best = d
                hit[q] = last
                where[q, 0], where[q, 1], where[q, 2] = bary[0], bary[1], bary[2]
        top = 0
        stack[0] = 0
        while top >= 0:
            node = stack[top]
            top -= 1
            if _box_gap(px, py, pz, lo[node], hi[node]) >= best:
                continue
            if left[node] < 0:
                for k in range(first[node], first[node] + count[node]):
                    t = order[k]
                    if agree > -1.0 and (normals[t, 0] * facing[q, 0] + normals[t, 1] * facing[q, 1]
                                         + normals[t, 2] * facing[q, 2]) < agree:
                        continue
                    d = _closest_on_triangle(px, py, pz, points[triangles[t, 0]], points[triangles[t, 1]],
                                             points[triangles[t, 2]], bary)
                    if d < best:
                        best = d
                        hit[q] = t
                        where[q, 0], where[q, 1], where[q, 2] = bary[0], bary[1], bary[2]
            else:
                i = left[node]
                di, dj = _box_gap(px, py, pz, lo[i], hi[i]), _box_gap(px, py, pz, lo[i + 1], hi[i + 1])
                near, far, dn, df = (i, i + 1, di, dj) if di < dj else (i + 1, i, dj, di)
                if df < best:
                    top += 1
                    stack[top] = far
                if dn < best:
                    top += 1
                    stack[top] = near
        gap[q] = np.sqrt(best)
        if hit[q] >= 0:
            last = hit[q]


@njit(cache=True, nogil=True)
def ray_hits(origins, directions, reach, points, triangles, order, first, count, left, lo, hi, distance, hit):
    """First triangle met from each origin along its unit direction within `reach` metres: `distance` (q,) or inf, `hit` or -1."""
    stack = np.empty(128, np.int64)
    for q in range(origins.shape[0]):
        ox, oy, oz = origins[q, 0], origins[q, 1], origins[q, 2]
        dx, dy, dz = directions[q, 0], directions[q, 1], directions[q, 2]
        ix = 1.0 / dx if abs(dx) > 1e-12 else 1e12
        iy = 1.0 / dy if abs(dy) > 1e-12 else 1e12
        iz = 1.0 / dz if abs(dz) > 1e-12 else 1e12
        best = reach
        hit[q] = -1
        top = 0
        stack[0] = 0
        while top >= 0:
            node = stack[top]
            top -= 1
            a, b = (lo[node, 0] - ox) * ix, (hi[node, 0] - ox) * ix
            t0, t1 = min(a, b), max(a, b)
            a, b = (lo[node, 1] - oy) * iy, (hi[node, 1] - oy) * iy
            t0, t1 = max(t0, min(a, b)), min(t1, max(a, b))
            a, b = (lo[node, 2] - oz) * iz, (hi[node, 2] - oz) * iz
            t0, t1 = max(t0, min(a, b)), min(t1, max(a, b))
            if t1 < max(t0, 0.0) or t0 > best:
                continue
            if left[node] >= 0:
                stack[top + 1] = left[node]
                stack[top + 2] = left[node] + 1
                top += 2
                continue
            for k in range(first[node], first[node] + count[node]):
                t = order[k]
                v0, v1, v2 = points[triangles[t, 0]], points[triangles[t, 1]], points[triangles[t, 2]]
                ax, ay, az = v1[0] - v0[0], v1[1] - v0[1], v1[2] - v0[2]
                bx, by, bz = v2[0] - v0[0], v2[1] - v0[1], v2[2] - v0[2]
                hx, hy, hz = dy * bz - dz * by, dz * bx - dx * bz, dx * by - dy * bx
                det = ax * hx + ay * hy + az * hz
                if abs(det) < 1e-16:
                    continue
                sx, sy, sz = ox - v0[0], oy - v0[1], oz - v0[2]
                u = (sx * hx + sy * hy + sz * hz) / det
                if u < 0.0 or u > 1.0:
                    continue
                gx, gy, gz = sy * az - sz * ay, sz * ax - sx * az, sx * ay - sy * ax
                v = (dx * gx + dy * gy + dz * gz) / det
                if v < 0.0 or u + v > 1.0:
                    continue
                s = (bx * gx + by * gy + bz * gz) / det
                if 0.0 < s < best:
                    best = s
                    hit[q] = t
        distance[q] = best if hit[q] >= 0 else np.inf
