"""A tree of boxes over triangles: build once, refit per pose; closest point and ray queries. Loops over plain arrays."""

import numpy as np
from numba import njit

from .triangle_kernels import nearest_weights

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
def refit(points, triangles, order, first, count, left, box, corners, facets):
    """Fill the nodes' boxes `box` (k, 6), the triangles' corners (m, 9) and unit normals `facets` (m, 3) in leaf order for the present
    `points`."""
    for k in range(len(order)):
        t = order[k]
        for c in range(3):
            v = triangles[t, c]
            for a in range(3):
                corners[k, 3 * c + a] = points[v, a]
        ux, uy, uz = corners[k, 3] - corners[k, 0], corners[k, 4] - corners[k, 1], corners[k, 5] - corners[k, 2]
        vx, vy, vz = corners[k, 6] - corners[k, 0], corners[k, 7] - corners[k, 1], corners[k, 8] - corners[k, 2]
        nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        size = max(np.sqrt(nx * nx + ny * ny + nz * nz), 1e-30)
        facets[k, 0], facets[k, 1], facets[k, 2] = nx / size, ny / size, nz / size
    for node in range(box.shape[0] - 1, -1, -1):
        if left[node] < 0:
            for a in range(3):
                low, high = 1e30, -1e30
                for k in range(first[node], first[node] + count[node]):
                    for c in range(3):
                        x = corners[k, 3 * c + a]
                        low, high = x if x < low else low, x if x > high else high
                box[node, a], box[node, 3 + a] = low, high
        else:
            i, j = left[node], left[node] + 1
            for a in range(3):
                one, two = box[i, a], box[j, a]
                box[node, a] = one if one < two else two
                one, two = box[i, 3 + a], box[j, 3 + a]
                box[node, 3 + a] = one if one > two else two


@njit(cache=True, nogil=True, inline="always")
def _closest_on_triangle(px, py, pz, t, k, bary):
    ax, ay, az = t[k, 0], t[k, 1], t[k, 2]
    v, w = nearest_weights(px, py, pz, ax, ay, az, t[k, 3], t[k, 4], t[k, 5], t[k, 6], t[k, 7], t[k, 8])
    bary[0], bary[1], bary[2] = 1.0 - v - w, v, w
    dx = px - ax - v * (t[k, 3] - ax) - w * (t[k, 6] - ax)
    dy = py - ay - v * (t[k, 4] - ay) - w * (t[k, 7] - ay)
    dz = pz - az - v * (t[k, 5] - az) - w * (t[k, 8] - az)
    return dx * dx + dy * dy + dz * dz


@njit(cache=True, nogil=True, inline="always")
def _box_gap(px, py, pz, box, i):
    x = max(box[i, 0] - px, px - box[i, 3], 0.0)
    y = max(box[i, 1] - py, py - box[i, 4], 0.0)
    z = max(box[i, 2] - pz, pz - box[i, 5], 0.0)
    return x * x + y * y + z * z


@njit(cache=True, nogil=True)
def closest(queries, facing, agree, limit, corners, facets, order, first, count, left, box, hit, where, gap):
    """Nearest triangle of each query (q, 3): `hit` (q,), barycentric `where` (q, 3), distance `gap` (q,).

    With `agree` > -1 only triangles whose unit normals make at least that cosine with `facing` (q, 3) count; none within `limit` (q,)
    metres leaves hit = -1. Neighbouring queries mostly lie on neighbouring triangles, so each begins at the last one's.
    """
    stack, waits = np.empty(128, np.int64), np.empty(128)
    bary = np.empty(3)
    last = -1
    choosy = agree > -1.0
    for q in range(queries.shape[0]):
        px, py, pz = queries[q, 0], queries[q, 1], queries[q, 2]
        best = limit[q] * limit[q]
        found = -1
        if last >= 0 and (not choosy or facets[last, 0] * facing[q, 0] + facets[last, 1] * facing[q, 1]
                          + facets[last, 2] * facing[q, 2] >= agree):
            d = _closest_on_triangle(px, py, pz, corners, last, bary)
            if d < best:
                best, found = d, last
                where[q, 0], where[q, 1], where[q, 2] = bary[0], bary[1], bary[2]
        top = 0
        stack[0], waits[0] = 0, 0.0
        while top >= 0:
            node = stack[top]
            top -= 1
            if waits[top + 1] >= best:
                continue
            if left[node] < 0:
                for k in range(first[node], first[node] + count[node]):
                    if choosy and facets[k, 0] * facing[q, 0] + facets[k, 1] * facing[q, 1] + facets[k, 2] * facing[q, 2] < agree:
                        continue
                    over = ((px - corners[k, 0]) * facets[k, 0] + (py - corners[k, 1]) * facets[k, 1]
                            + (pz - corners[k, 2]) * facets[k, 2])
                    if over * over >= best:
                        continue  # not even its plane is nearer
                    d = _closest_on_triangle(px, py, pz, corners, k, bary)
                    if d < best:
                        best, found = d, k
                        where[q, 0], where[q, 1], where[q, 2] = bary[0], bary[1], bary[2]
            else:
                i = left[node]
                di, dj = _box_gap(px, py, pz, box, i), _box_gap(px, py, pz, box, i + 1)
                near, far, dn, df = (i, i + 1, di, dj) if di < dj else (i + 1, i, dj, di)
                if df < best:
                    top += 1
                    stack[top], waits[top] = far, df
                if dn < best:
                    top += 1
                    stack[top], waits[top] = near, dn
        gap[q] = np.sqrt(best)
        hit[q] = -1
        if found >= 0:
            hit[q], last = order[found], found


@njit(cache=True, nogil=True)
def weighted(values, triangles, hit, where):
    """Values (n, 3) of the vertices at barycentric places `where` (q, 3) of the triangles `hit` (q,); those of the first for -1."""
    out = np.empty((hit.shape[0], 3))
    for q in range(hit.shape[0]):
        t = max(hit[q], 0)
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        for k in range(3):
            out[q, k] = where[q, 0] * values[a, k] + where[q, 1] * values[b, k] + where[q, 2] * values[c, k]
    return out


@njit(cache=True, nogil=True, inline="always")
def _ray_box(ox, oy, oz, ix, iy, iz, box, node):
    a, b = (box[node, 0] - ox) * ix, (box[node, 3] - ox) * ix
    t0, t1 = min(a, b), max(a, b)
    a, b = (box[node, 1] - oy) * iy, (box[node, 4] - oy) * iy
    t0, t1 = max(t0, min(a, b)), min(t1, max(a, b))
    a, b = (box[node, 2] - oz) * iz, (box[node, 5] - oz) * iz
    t0, t1 = max(t0, min(a, b)), min(t1, max(a, b))
    return t0 if t1 >= max(t0, 0.0) else np.inf


@njit(cache=True, nogil=True, inline="always")
def _ray_triangle(ox, oy, oz, dx, dy, dz, corners, k):
    ax, ay, az = corners[k, 3] - corners[k, 0], corners[k, 4] - corners[k, 1], corners[k, 5] - corners[k, 2]
    bx, by, bz = corners[k, 6] - corners[k, 0], corners[k, 7] - corners[k, 1], corners[k, 8] - corners[k, 2]
    hx, hy, hz = dy * bz - dz * by, dz * bx - dx * bz, dx * by - dy * bx
    det = ax * hx + ay * hy + az * hz
    s = -1.0
    if abs(det) >= 1e-16:
        sx, sy, sz = ox - corners[k, 0], oy - corners[k, 1], oz - corners[k, 2]
        u = (sx * hx + sy * hy + sz * hz) / det
        gx, gy, gz = sy * az - sz * ay, sz * ax - sx * az, sx * ay - sy * ax
        v = (dx * gx + dy * gy + dz * gz) / det
        if 0.0 <= u <= 1.0 and v >= 0.0 and u + v <= 1.0:
            s = (bx * gx + by * gy + bz * gz) / det
    return s


@njit(cache=True, nogil=True)
def ray_hits(origins, directions, reach, corners, order, first, count, left, box, distance, hit):
    """First triangle met from each origin along its unit direction within `reach` metres: `distance` (q,) or inf, `hit` or -1.

    Follows: Moeller & Trumbore, Fast minimum storage ray/triangle intersection, 1997."""
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
            if _ray_box(ox, oy, oz, ix, iy, iz, box, node) > best:
                continue
            if left[node] >= 0:
                stack[top + 1] = left[node]
                stack[top + 2] = left[node] + 1
                top += 2
                continue
            for k in range(first[node], first[node] + count[node]):
                s = _ray_triangle(ox, oy, oz, dx, dy, dz, corners, k)
                if 0.0 < s < best:
                    best = s
                    hit[q] = order[k]
        distance[q] = best if hit[q] >= 0 else np.inf


@njit(cache=True, nogil=True)
def escapes(points, facing, views, least, reach, roots, corners, first, count, left, box, out):
    """Set `out` (q,) to the first of `views` (v, 3) that makes at least the cosine `least` with a point's `facing` and along which a ray
    from it meets nothing within `reach` metres. The trees' arrays stand one after the other, their root nodes at `roots`.

    What hid the point before from a side is asked first: points that lie near come one after the other."""
    stack, hid = np.empty(128, np.int64), np.full(views.shape[0], -1)
    for q in range(points.shape[0]):
        ox, oy, oz = points[q, 0], points[q, 1], points[q, 2]
        for v in range(views.shape[0]):
            dx, dy, dz = views[v, 0], views[v, 1], views[v, 2]
            if dx * facing[q, 0] + dy * facing[q, 1] + dz * facing[q, 2] <= least:
                continue
            if hid[v] >= 0 and 0.0 < _ray_triangle(ox, oy, oz, dx, dy, dz, corners, hid[v]) < reach:
                continue
            ix = 1.0 / dx if abs(dx) > 1e-12 else 1e12
            iy = 1.0 / dy if abs(dy) > 1e-12 else 1e12
            iz = 1.0 / dz if abs(dz) > 1e-12 else 1e12
            free = True
            for r in range(roots.shape[0]):
                top = 0
                stack[0] = roots[r]
                while top >= 0 and free:
                    node = stack[top]
                    top -= 1
                    if left[node] >= 0:  # the nearer half first: what hides a point mostly lies close by
                        near = _ray_box(ox, oy, oz, ix, iy, iz, box, left[node])
                        far = _ray_box(ox, oy, oz, ix, iy, iz, box, left[node] + 1)
                        swap = near > far
                        if max(near, far) <= reach:
                            top += 1
                            stack[top] = left[node] + (0 if swap else 1)
                        if min(near, far) <= reach:
                            top += 1
                            stack[top] = left[node] + (1 if swap else 0)
                        continue
                    for k in range(first[node], first[node] + count[node]):
                        s = _ray_triangle(ox, oy, oz, dx, dy, dz, corners, k)
                        if 0.0 < s < reach:
                            free, hid[v] = False, k
                            break
                if not free:
                    break
            if free:
                out[q] = v
                break
