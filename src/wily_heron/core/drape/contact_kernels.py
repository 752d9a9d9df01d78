"""Contact with a moving body: each vertex keeps the triangle it is nearest to and walks on from it."""

import numpy as np
from numba import njit, prange

from ..space.tree_kernels import closest, refit_leaves, refit_nodes
from ..space.triangle_kernels import nearest_weights

_STEPS = 6
"""How many triangles a vertex may walk over in one substep."""
_FAR_STEPS = 24


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def between(one, two, t, out):
    """Fill `out` (k, 3) with the points at `t` on the way from `one` to `two`."""
    for part in prange(2):
        for i in range(part * len(out) // 2, (part + 1) * len(out) // 2):
            for a in range(3):
                out[i, a] = one[i, a] + t * (two[i, a] - one[i, a])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def drift_and_moves(start, stop, used, triangles, moves):
    """Return how far (3,) the points `used` (u,) of a surface go on the whole from `start` to `stop` (k, 3), and fill `moves` (m,) with how
    far the farthest corner of each triangle goes besides."""
    drift, way = np.zeros(3), np.empty(len(start))
    for r in range(len(used)):
        for a in range(3):
            drift[a] += (stop[used[r], a] - start[used[r], a]) / len(used)
    for i in range(len(start)):
        x, y, z = stop[i, 0] - start[i, 0] - drift[0], stop[i, 1] - start[i, 1] - drift[1], stop[i, 2] - start[i, 2] - drift[2]
        way[i] = np.sqrt(x * x + y * y + z * z)
    for t in range(len(triangles)):
        moves[t] = max(way[triangles[t, 0]], way[triangles[t, 1]], way[triangles[t, 2]])
    return drift


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _gap(px, py, pz, q, n, a, b, c, u, v):
    # the signed gap along the smooth normal, the normal, and the square of the distance
    w = 1.0 - u - v
    cx = w * q[a, 0] + u * q[b, 0] + v * q[c, 0]
    cy = w * q[a, 1] + u * q[b, 1] + v * q[c, 1]
    cz = w * q[a, 2] + u * q[b, 2] + v * q[c, 2]
    nx = w * n[a, 0] + u * n[b, 0] + v * n[c, 0]
    ny = w * n[a, 1] + u * n[b, 1] + v * n[c, 1]
    nz = w * n[a, 2] + u * n[b, 2] + v * n[c, 2]
    size = 1.0 / max(np.sqrt(nx * nx + ny * ny + nz * nz), 1e-12)
    nx, ny, nz = nx * size, ny * size, nz * size
    dx, dy, dz = px - cx, py - cy, pz - cz
    return dx * nx + dy * ny + dz * nz, nx, ny, nz, dx * dx + dy * dy + dz * dz


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _touch(i, x, q, n, triangles, across, t):
    # walk from triangle t to the nearest; returns it, the barycentric weights, the gap and its normal
    a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
    u, v = nearest_weights(x[i, 0], x[i, 1], x[i, 2], q[a, 0], q[a, 1], q[a, 2], q[b, 0], q[b, 1], q[b, 2], q[c, 0], q[c, 1], q[c, 2])
    gap, nx, ny, nz, square = _gap(x[i, 0], x[i, 1], x[i, 2], q, n, a, b, c, u, v)
    for _ in range(_STEPS):
        moved = False
        for s in range(3):  # sides lie opposite the corner whose weight is nothing
            weight = v if s == 0 else (1.0 - u - v if s == 1 else u)
            if weight > 1e-9:
                continue
            other = across[t, s]
            if other < 0:
                continue
            a2, b2, c2 = triangles[other, 0], triangles[other, 1], triangles[other, 2]
            u2, v2 = nearest_weights(x[i, 0], x[i, 1], x[i, 2], q[a2, 0], q[a2, 1], q[a2, 2], q[b2, 0], q[b2, 1], q[b2, 2], q[c2, 0],
                                     q[c2, 1], q[c2, 2])
            g2, x2, y2, z2, s2 = _gap(x[i, 0], x[i, 1], x[i, 2], q, n, a2, b2, c2, u2, v2)
            if s2 < square - 1e-14:
                t, u, v, gap, nx, ny, nz, square, moved = other, u2, v2, g2, x2, y2, z2, s2, True
                break
        if not moved:
            break
    return t, u, v, gap, nx, ny, nz


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _off(i, x, q, triangles, t):
    a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
    u, v = nearest_weights(x[i, 0], x[i, 1], x[i, 2], q[a, 0], q[a, 1], q[a, 2], q[b, 0], q[b, 1], q[b, 2], q[c, 0], q[c, 1], q[c, 2])
    square = 0.0
    for k in range(3):
        square += (x[i, k] - (1.0 - u - v) * q[a, k] - u * q[b, k] - v * q[c, k]) ** 2
    return square, u, v


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def along_surface(x, q, triangles, across, near, rows, far):
    """Return the triangle (r,) that is nearest each of the vertices `rows` (r,) of x (n, 3) on the way along the surface q (k, 3) from the
    one it knows, `near` (n,), and fill `far` (r,) with how far that is; -1 and 1e9 for those that know none."""
    out = np.empty(len(rows), np.int64)
    for r in range(len(rows)):
        i = rows[r]
        t = near[i]
        out[r], far[r] = t, 1e9
        if t < 0:
            continue
        square, u, v = _off(i, x, q, triangles, t)
        for _ in range(_FAR_STEPS):
            moved = False
            for s in range(3):  # sides lie opposite the corner whose weight is nothing
                other = across[t, s]
                if other < 0 or (v if s == 0 else (1.0 - u - v if s == 1 else u)) > 1e-9:
                    continue
                square2, u2, v2 = _off(i, x, q, triangles, other)
                if square2 < square - 1e-14:
                    t, square, u, v, moved = other, square2, u2, v2, True
                    break
            if not moved:
                break
        out[r], far[r] = t, np.sqrt(square)
    return out


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def to_ask(v, near, move, seconds, drift, turn, reach, far, about, moves):
    """Return the vertices (r,) that are to look anew what is near them: a third of those that know, by `turn`, and all that may have come
    within `reach` since they last looked.

    `move` (m,) is how far each triangle of the body moves in the frame besides its `drift` (3,). Fills `about` (n,) with how far the body
    may move about each vertex, half as far again as its nearest triangle does and 5 mm, and `moves` (n,) with what may come of that and its
    own velocity `v` (n, 4) in half a frame, and takes that off `far` (n,), how far the body is at least.
    """
    out, count = np.empty(len(near), np.int64), 0
    most = move.max()
    for i in range(len(near)):
        about[i] = most if near[i] < 0 else min(1.5 * move[near[i]] + 0.005, most)
        dx, dy, dz = v[i, 0] * seconds - drift[0], v[i, 1] * seconds - drift[1], v[i, 2] * seconds - drift[2]
        moves[i] = min(0.5 * (np.sqrt(dx * dx + dy * dy + dz * dz) + about[i]), 0.2)
        far[i] -= moves[i]
        if far[i] < reach + moves[i] and (near[i] < 0 or i % 3 == turn % 3):
            out[count] = i
            count += 1
    return out[:count]


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _look_range(x, q, triangles, across, known, near, facing, rows, reach, seen, nearer, pinch, tree, least):
    order, kids, boxes, leaves = tree
    n = len(rows)
    far, points, limit = np.empty(n), np.empty((n, 3)), np.empty(n)
    hit, where, gap = np.empty(n, np.int64), np.empty((n, 3)), np.empty(n)
    along = along_surface(x, q, triangles, across, known, rows, far)
    for r in range(n):
        limit[r] = min(reach[rows[r]] + seen, nearer * far[r])
        for a in range(3):
            points[r, a] = x[rows[r], a]
    closest(points, points, -2.0, limit, order, kids, boxes, leaves, hit, where, gap)
    close, count = np.empty(n, np.int64), 0
    for r in range(n):
        i = rows[r]
        least[r] = gap[r]
        if hit[r] >= 0:
            along[r], far[r] = hit[r], gap[r]
        known[i] = along[r]
        near[i], facing[i] = along[r] if far[r] < reach[i] else -1, -1
        if far[r] < pinch:
            close[count] = r
            count += 1
    ask, away = np.empty((count, 3)), np.empty((count, 3))
    for k in range(count):
        t = triangles[along[close[k]]]
        one, two = q[t[1]] - q[t[0]], q[t[2]] - q[t[0]]
        normal = np.cross(one, two)
        away[k] = -normal / max(np.sqrt((normal * normal).sum()), 1e-30)
        ask[k] = points[close[k]]
    closest(ask, away, 0.3, np.full(count, pinch), order, kids, boxes, leaves, hit, where, gap)
    for k in range(count):
        facing[rows[close[k]]] = hit[k]


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def look(x, q, triangles, across, known, near, facing, rows, reach, seen, nearer, pinch, tree, least):
    """Find for the vertices `rows` (r,) of x (n, 4) the nearest triangle of the surface q (k, 3) within `reach` (n,), and where that is
    nearer than `pinch`, the nearest within that which faces the other way, into `near` and `facing` (n,), -1 for none.

    What is nearest along the surface from the triangle `known` (n,) is taken unless another of the `tree` is nearer than the share `nearer`
    of that. Fills `least` (r,) with how far the body is at least, looked for `seen` farther than the reach. The tree is made to fit `q`.
    """
    order, kids, boxes, leaves = tree
    ends = np.empty((len(order), 6), np.float32)
    for part in prange(2):
        refit_leaves(q, triangles, order, leaves, ends, part * len(order) // 2, (part + 1) * len(order) // 2)
    refit_nodes(q, kids, boxes, ends)
    half = len(rows) // 2
    for part in prange(2):
        low, high = part * half, len(rows) if part else half
        _look_range(x, q, triangles, across, known, near, facing, rows[low:high], reach, seen, nearer, pinch, tree, least[low:high])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def contacts(x, p, near, facing, q, before, n, triangles, across, thick, friction, rub, push, idle, moves, drift, halves):
    """Push every vertex that is nearer than `thick` (n,) out of the body, and with `rub` hold it by Coulomb friction against this
    push and the one before, kept in `push` (n,); `friction` is each one's (n,).

    `near` (n,) is each one's triangle, `facing` (n,) one on the other side where it is pinched, -1 for none; both are walked on.
    `q`, `before` (k, 3) are the body's points now and a substep ago, `n` its normals. The push leaves no velocity along the normal but
    the body's own; between two skins the vertex goes to the middle. `idle` (n,) is how far each may still move before it can touch: it is
    passed over until it has, the body moving at most `moves` (n,) metres there since the last call besides its `drift` (3,) in a substep.
    """
    for part in prange(2):
        for i in range(halves[part], halves[part + 1]):
            if not rub:
                push[i] = 0.0
            if near[i] < 0:
                continue
            if idle[i] > 0.0:
                dx, dy, dz = x[i, 0] - p[i, 0] - drift[0], x[i, 1] - p[i, 1] - drift[1], x[i, 2] - p[i, 2] - drift[2]
                idle[i] -= moves[i] + np.sqrt(dx * dx + dy * dy + dz * dz)
                if idle[i] > 0.0:
                    continue
            t, u, v, gap, nx, ny, nz = _touch(i, x, q, n, triangles, across, near[i])
            near[i] = t
            short = thick[i] - gap
            if facing[i] >= 0:
                t2, u2, v2, gap2, mx, my, mz = _touch(i, x, q, n, triangles, across, facing[i])
                facing[i] = t2
                short2 = thick[i] - gap2
                if short > 0 and short2 > 0:  # pinched: to the middle, and calm
                    for a in range(3):
                        m, o = (nx, mx) if a == 0 else ((ny, my) if a == 1 else (nz, mz))
                        x[i, a] += 0.5 * (short * m + short2 * o)
                        mean = 0.0
                        for k, by in ((0, 1.0 - u - v), (1, u), (2, v)):
                            mean += 0.5 * by * (q[triangles[t, k], a] - before[triangles[t, k], a])
                        for k, by in ((0, 1.0 - u2 - v2), (1, u2), (2, v2)):
                            mean += 0.5 * by * (q[triangles[t2, k], a] - before[triangles[t2, k], a])
                        p[i, a] = x[i, a] - mean
                    continue
                if short2 > short:
                    t, u, v, short, nx, ny, nz = t2, u2, v2, short2, mx, my, mz
            if short <= 0:
                idle[i] = -short
                if push[i] == 0.0:
                    continue
                short = 0.0
            if not rub:
                push[i] = short
            a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
            s = 1.0 - u - v
            bx = s * (q[a, 0] - before[a, 0]) + u * (q[b, 0] - before[b, 0]) + v * (q[c, 0] - before[c, 0])
            by = s * (q[a, 1] - before[a, 1]) + u * (q[b, 1] - before[b, 1]) + v * (q[c, 1] - before[c, 1])
            bz = s * (q[a, 2] - before[a, 2]) + u * (q[b, 2] - before[b, 2]) + v * (q[c, 2] - before[c, 2])
            x[i, 0] += short * nx
            x[i, 1] += short * ny
            x[i, 2] += short * nz
            rx, ry, rz = x[i, 0] - p[i, 0] - bx, x[i, 1] - p[i, 1] - by, x[i, 2] - p[i, 2] - bz
            along = rx * nx + ry * ny + rz * nz
            if along > 0:
                p[i, 0] += along * nx
                p[i, 1] += along * ny
                p[i, 2] += along * nz
            if rub:
                rx, ry, rz = rx - along * nx, ry - along * ny, rz - along * nz
                slide = np.sqrt(rx * rx + ry * ry + rz * rz)
                if slide > 1e-12:
                    back = min(1.0, friction[i] * (short + push[i]) / slide)
                    x[i, 0] -= back * rx
                    x[i, 1] -= back * ry
                    x[i, 2] -= back * rz
