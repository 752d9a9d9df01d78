# Numba gives intrinsics their first argument itself:
# pyright: reportCallIssue=false
"""A tree of boxes over triangles: build once, refit per pose; closest point and ray queries. Loops over plain arrays.

A node has up to eight `kids` (n, 8): another node above nothing, a leaf of eight triangles below it as -1 - leaf, none at nothing. Their
`boxes` (n, 6, 8) stand in the node. `leaves` (l, 12, 8) are the triangles' corners and unit normals, `order` (l, 8) which they are; what is
over in a leaf repeats its first.
"""

import numpy as np
from numba import njit

from .eight import box_gaps, box_hits, first_lane, normals_agree, planes_near, triangle_gaps, triangle_hits
from .triangle_kernels import nearest_weights

_STACK = 256
EVEN = 1.000001
"""What is farther by less is looked at too, to tell which of several as near is the first."""
_LATE = 3
"""So many of what has hidden points from a side are remembered."""


@njit(cache=True, nogil=True)
def build(centres, order, kids):
    """Split the triangles with `centres` (m, 3), halved by the median of the widest axis, into full leaves; fills `order` (m,) and `kids`
    (n, 8) and returns the number of nodes. Children follow parents."""
    size = 2 * (len(order) // 8) + 4
    first, count, left = np.zeros(size, np.int64), np.zeros(size, np.int64), np.full(size, -1)
    halves = 1
    first[0], count[0] = 0, len(order)
    node = 0
    while node < halves:
        start, n = first[node], count[node]
        if n > 8:
            lo, hi = np.full(3, 1e30), np.full(3, -1e30)
            for k in range(start, start + n):
                for a in range(3):
                    x = centres[order[k], a]
                    lo[a], hi[a] = min(lo[a], x), max(hi[a], x)
            axis = np.argmax(hi - lo)
            part = order[start:start + n]
            part[:] = part[np.argsort(centres[part, axis])]
            whole = _whole(n)
            half = whole * (((n + whole - 1) // whole + 1) // 2)
            left[node] = halves
            first[halves], count[halves] = start, half
            first[halves + 1], count[halves + 1] = start + half, n - half
            halves += 2
        node += 1
    of, room = np.zeros(len(kids), np.int64), np.empty(8, np.int64)
    nodes = 1
    node = 0
    while node < nodes:
        taken, k, whole = 1, 0, _whole(count[of[node]])
        room[0] = of[node]
        while k < taken:
            if left[room[k]] >= 0 and count[room[k]] > whole:
                room[taken], room[k] = left[room[k]] + 1, left[room[k]]
                taken += 1
            else:
                k += 1
        for k in range(8):
            kids[node, k] = 0
            if k < taken and left[room[k]] >= 0:
                kids[node, k], of[nodes] = nodes, room[k]
                nodes += 1
            elif k < taken and count[room[k]] > 0:
                kids[node, k] = -1 - first[room[k]] // 8
        node += 1
    return nodes


@njit(cache=True, nogil=True)
def _whole(n):
    # so many triangles are in a full kid of a node of n: but for the last all are full
    whole = 8
    while 8 * whole < n:
        whole *= 8
    return whole


@njit(cache=True, nogil=True)
def refit(points, triangles, order, kids, boxes, leaves):
    """Fill `boxes` and `leaves` for the present `points` (v, 3)."""
    ends = np.empty((len(order), 6), np.float32)
    refit_leaves(points, triangles, order, leaves, ends, 0, len(order))
    refit_nodes(points, kids, boxes, ends)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def refit_leaves(points, triangles, order, leaves, ends, low, high):
    """Fill the `leaves` from `low` to `high`, and their boxes' `ends` (l, 6)."""
    for leaf in range(low, high):
        for k in range(8):
            t = order[leaf, k]
            for c in range(3):
                i = np.uint64(triangles[t, c])
                for a in range(3):
                    leaves[leaf, 3 * c + a, k] = points[i, a]
        for k in range(8):
            ax, ay, az = leaves[leaf, 0, k], leaves[leaf, 1, k], leaves[leaf, 2, k]
            ux, uy, uz = leaves[leaf, 3, k] - ax, leaves[leaf, 4, k] - ay, leaves[leaf, 5, k] - az
            vx, vy, vz = leaves[leaf, 6, k] - ax, leaves[leaf, 7, k] - ay, leaves[leaf, 8, k] - az
            nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
            by = 1.0 / np.sqrt(max(nx * nx + ny * ny + nz * nz, 1e-60))
            leaves[leaf, 9, k], leaves[leaf, 10, k], leaves[leaf, 11, k] = nx * by, ny * by, nz * by
        for a in range(3):
            least, most = np.inf, -np.inf
            for k in range(8):
                x, y, z = leaves[leaf, a, k], leaves[leaf, 3 + a, k], leaves[leaf, 6 + a, k]
                least, most = min(least, min(min(x, y), z)), max(most, max(max(x, y), z))
            ends[leaf, a], ends[leaf, 3 + a] = least, most


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def refit_nodes(points, kids, boxes, ends):
    """Fill the nodes' `boxes` from the `ends` (l, 6) of their leaves, and wider by more than single floats round off, of the box and of a
    point as far out as `points` (v, 3)."""
    most = 1e-30
    for i in range(len(points)):
        most = max(most, max(abs(points[i, 0]), max(abs(points[i, 1]), abs(points[i, 2]))))
    pad = np.float32(4e-7 * most)
    for node in range(len(kids) - 1, -1, -1):
        for k in range(8):
            kid = kids[node, k]
            for a in range(3):
                low, high = np.float32(1e30), np.float32(-1e30)
                if kid > 0:
                    for j in range(8):
                        if kids[kid, j] != 0:
                            low, high = min(low, boxes[kid, a, j]), max(high, boxes[kid, 3 + a, j])
                elif kid < 0:
                    low, high = ends[-1 - kid, a] - pad, ends[-1 - kid, 3 + a] + pad
                else:
                    high = np.float32(1e30)
                boxes[node, a, k], boxes[node, 3 + a, k] = low, high


@njit(cache=True, nogil=True, inline="always")
def _pushed(bits, far, kids, node, stack, waits, top):
    # the nearest comes to lie on top
    base = top + 1
    while bits:
        k = first_lane(bits)
        bits &= bits - 1
        top += 1
        place = top
        while place > base and waits[place - 1] < far[k]:
            stack[place], waits[place] = stack[place - 1], waits[place - 1]
            place -= 1
        stack[place], waits[place] = kids[node, k], far[k]
    return top


@njit(cache=True, nogil=True)
def closest(queries, facing, agree, limit, even, order, kids, boxes, leaves, hit, where, gap):
    """Nearest triangle of each query (q, 3): `hit` (q,), barycentric `where` (q, 3), distance `gap` (q,).

    With `agree` > -1 only triangles whose unit normals make at least that cosine with `facing` (q, 3) count; none within `limit` (q,)
    metres leaves hit = -1. With `even` EVEN rather than 1, of several that are as near the first counts, however the tree was built.
    Neighbouring queries mostly lie on neighbouring triangles, so each begins at the last one's leaf.
    """
    stack, waits = np.empty(_STACK, np.int64), np.empty(_STACK, np.float32)
    near, far = np.empty(8, np.float32), np.empty(8)
    last = -1
    for q in range(queries.shape[0]):
        px, py, pz = queries[q, 0], queries[q, 1], queries[q, 2]
        sx, sy, sz = np.float32(px), np.float32(py), np.float32(pz)
        best, found, top = limit[q] * limit[q], -1, 0
        stack[0], waits[0] = 0, 0.0
        if last >= 0:
            top = 1
            stack[1], waits[1] = -1 - last // 8, 0.0
        while top >= 0:
            node = stack[top]
            top -= 1
            just = even * best + 1e-24 * (even - 1.0)
            if waits[top + 1] > just:
                continue
            if node >= 0:
                bits = box_gaps(boxes, node, sx, sy, sz, np.float32(1.00001 * just), near)
                top = _pushed(bits, near, kids, node, stack, waits, top)
                continue
            leaf = -1 - node
            bits = planes_near(leaves, leaf, px, py, pz, just)
            if agree > -1.0:
                bits &= normals_agree(leaves, leaf, facing[q, 0], facing[q, 1], facing[q, 2], agree)
            if bits:
                bits &= triangle_gaps(leaves, leaf, px, py, pz, just, far)
            while bits:
                k = first_lane(bits)
                bits &= bits - 1
                if far[k] < best or (far[k] == best and found >= 0 and order[leaf, k] < order[found // 8, found % 8]):
                    best, found = far[k], 8 * leaf + k
        gap[q] = np.sqrt(best)
        hit[q] = -1
        if found >= 0:
            last, leaf, k = found, found // 8, found % 8
            hit[q] = order[leaf, k]
            t = leaves[leaf, :, k]
            v, w = nearest_weights(px, py, pz, t[0], t[1], t[2], t[3], t[4], t[5], t[6], t[7], t[8])
            where[q, 0], where[q, 1], where[q, 2] = 1.0 - v - w, v, w


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
def _inverse(d):
    return np.float32(1.0 / d if abs(d) > 1e-12 else 1e12)


@njit(cache=True, nogil=True)
def ray_hits(origins, directions, reach, order, kids, boxes, leaves, distance, hit):
    """First triangle met from each origin along its unit direction within `reach` metres: `distance` (q,) or inf, `hit` or -1."""
    stack, waits = np.empty(_STACK, np.int64), np.empty(_STACK, np.float32)
    near, far = np.empty(8, np.float32), np.empty(8)
    for q in range(origins.shape[0]):
        ox, oy, oz = origins[q, 0], origins[q, 1], origins[q, 2]
        dx, dy, dz = directions[q, 0], directions[q, 1], directions[q, 2]
        sx, sy, sz, ix, iy, iz = np.float32(ox), np.float32(oy), np.float32(oz), _inverse(dx), _inverse(dy), _inverse(dz)
        best, hit[q], top = reach, -1, 0
        stack[0], waits[0] = 0, 0.0
        while top >= 0:
            node = stack[top]
            top -= 1
            just = EVEN * best
            if waits[top + 1] > just:
                continue
            if node >= 0:
                bits = box_hits(boxes, node, sx, sy, sz, ix, iy, iz, np.float32(just), near)
                top = _pushed(bits, near, kids, node, stack, waits, top)
                continue
            bits = triangle_hits(leaves, -1 - node, ox, oy, oz, dx, dy, dz, just, far)
            while bits:
                k = first_lane(bits)
                bits &= bits - 1
                if far[k] < best or (far[k] == best and 0 <= hit[q] and order[-1 - node, k] < hit[q]):
                    best, hit[q] = far[k], order[-1 - node, k]
        distance[q] = best if hit[q] >= 0 else np.inf


@njit(cache=True, nogil=True)
def _first(late, place, value):
    """Put a value first, those before `place` one on."""
    for k in range(place, 0, -1):
        late[k] = late[k - 1]
    late[0] = value


@njit(cache=True, nogil=True)
def escapes(points, facing, views, least, reach, roots, kids, boxes, leaves, out):
    """Set `out` (q,) to the first of `views` (v, 3) that makes at least the cosine `least` with a point's `facing` and along which a ray
    from it meets nothing within `reach` metres. The trees' arrays stand one after the other, their root nodes at `roots`.

    What has hidden points from a side of late is asked first: points that lie near come one after the other."""
    stack, waits = np.empty(_STACK, np.int64), np.empty(_STACK, np.float32)
    near, far, hid = np.empty(8, np.float32), np.empty(8), np.full((views.shape[0], _LATE), -1)
    for q in range(points.shape[0]):
        ox, oy, oz = points[q, 0], points[q, 1], points[q, 2]
        sx, sy, sz = np.float32(ox), np.float32(oy), np.float32(oz)
        for v in range(views.shape[0]):
            dx, dy, dz = views[v, 0], views[v, 1], views[v, 2]
            if dx * facing[q, 0] + dy * facing[q, 1] + dz * facing[q, 2] <= least:
                continue
            late = 0
            while late < _LATE and hid[v, late] >= 0 and not triangle_hits(leaves, hid[v, late], ox, oy, oz, dx, dy, dz, reach, far):
                late += 1
            if late < _LATE and hid[v, late] >= 0:
                _first(hid[v], late, hid[v, late])
                continue
            ix, iy, iz = _inverse(dx), _inverse(dy), _inverse(dz)
            free = True
            for r in range(roots.shape[0]):
                top = 0
                stack[0] = roots[r]
                while top >= 0:
                    node = stack[top]
                    top -= 1
                    if node >= 0:
                        bits = box_hits(boxes, node, sx, sy, sz, ix, iy, iz, np.float32(reach), near)
                        top = _pushed(bits, near, kids, node, stack, waits, top)
                    elif triangle_hits(leaves, -1 - node, ox, oy, oz, dx, dy, dz, reach, far):
                        free = False
                        _first(hid[v], _LATE - 1, -1 - node)
                        break
                if not free:
                    break
            if free:
                out[q] = v
                break
