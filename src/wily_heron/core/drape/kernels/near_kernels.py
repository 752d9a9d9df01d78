"""How a body moves, and what of it lies near each vertex of the cloth."""

import numpy as np
from numba import njit, prange

from ...space.nearest_kernels import closest
from ...space.tree_kernels import refit_leaves, refit_nodes
from ...space.triangle_kernels import nearest_weights

_FAR_STEPS = 24
"""How many triangles a vertex may walk over when it is looked for."""
_OFF = 0.015
"""Metres off what it is near to from which cloth is looked for at each turn."""


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def between(one, two, t, out):
    """Fill `out` (k, 3 or 4) with the points at `t` on the way from `one` to `two` (k, 3)."""
    for part in prange(2):
        for i in range(part * len(out) // 2, (part + 1) * len(out) // 2):
            for a in range(3):
                out[i, a] = one[i, a] + t * (two[i, a] - one[i, a])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def go_to(start, stop, used, triangles, way, normals, moves):
    """Return how far (3,) the points `used` (u,) of a surface go on the whole from `start` to `stop` (k, 3); fill `way` (2k, 4), by turns
    where each begins and how far it goes, the unit `normals` (k, 3) at `stop`, weighted by area, and `moves` (m,), how far the farthest
    corner of each triangle goes besides."""
    k, m, drift = len(start), len(triangles), np.zeros(3)
    for r in range(len(used)):
        for a in range(3):
            drift[a] += (stop[used[r], a] - start[used[r], a]) / len(used)
    sums, far = np.zeros((2, k, 3)), np.empty(k)
    for part in prange(2):
        for t in range(part * m // 2, (part + 1) * m // 2):
            a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
            ux, uy, uz = stop[b, 0] - stop[a, 0], stop[b, 1] - stop[a, 1], stop[b, 2] - stop[a, 2]
            vx, vy, vz = stop[c, 0] - stop[a, 0], stop[c, 1] - stop[a, 1], stop[c, 2] - stop[a, 2]
            x, y, z = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
            for i in (a, b, c):
                sums[part, i, 0] += x
                sums[part, i, 1] += y
                sums[part, i, 2] += z
    for part in prange(2):
        for i in range(part * k // 2, (part + 1) * k // 2):
            x, y, z = sums[0, i, 0] + sums[1, i, 0], sums[0, i, 1] + sums[1, i, 1], sums[0, i, 2] + sums[1, i, 2]
            by = 1.0 / max(np.sqrt(x * x + y * y + z * z), 1e-30)
            normals[i, 0], normals[i, 1], normals[i, 2] = x * by, y * by, z * by
            square = 0.0
            for a in range(3):
                way[2 * i, a], way[2 * i + 1, a] = start[i, a], stop[i, a] - start[i, a]
                square += (stop[i, a] - start[i, a] - drift[a]) ** 2
            far[i] = np.sqrt(square)
    for part in prange(2):
        for t in range(part * m // 2, (part + 1) * m // 2):
            moves[t] = max(far[triangles[t, 0]], far[triangles[t, 1]], far[triangles[t, 2]])
    return drift


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
def to_ask(v, near, idle, move, seconds, drift, turn, reach, far, about, moves):
    """Return the vertices (r,) that are to look anew what is near them: a third of those that lie on what they are near to, by `turn`, and
    all that may have come within `reach` since they last looked, and are `idle` (n,) metres off what they are near to: something else may
    come between.

    `move` (m,) is how far each triangle of the body moves in the frame besides its `drift` (3,). Fills `about` (n,) with how far the body
    may move about each vertex, half as far again as its nearest triangle does and 5 mm, and `moves` (n,) with what may come of that and its
    own velocity `v` (n, 4) in half a frame, and takes that off `far` (n,), how far the body is at least.
    """
    out, count, most = np.empty(len(near), np.int64), 0, 0.0
    for t in range(len(move)):
        most = max(most, move[t])
    for i in range(len(near)):
        about[i] = most if near[i] < 0 else min(1.5 * move[near[i]] + 0.005, most)
        dx, dy, dz = v[i, 0] * seconds - drift[0], v[i, 1] * seconds - drift[1], v[i, 2] * seconds - drift[2]
        moves[i] = min(0.5 * (np.sqrt(dx * dx + dy * dy + dz * dz) + about[i]), 0.2)
        far[i] -= moves[i]
        if far[i] < reach + moves[i] and (near[i] < 0 or idle[i] > _OFF or i % 3 == turn % 3):
            out[count] = i
            count += 1
    return out[:count]


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
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
    closest(points, points, -2.0, limit, 1.0, order, kids, boxes, leaves, hit, where, gap)
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
        t, r = along[close[k]], close[k]
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        ux, uy, uz = q[b, 0] - q[a, 0], q[b, 1] - q[a, 1], q[b, 2] - q[a, 2]
        vx, vy, vz = q[c, 0] - q[a, 0], q[c, 1] - q[a, 1], q[c, 2] - q[a, 2]
        nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        size = max(np.sqrt(nx * nx + ny * ny + nz * nz), 1e-30)
        away[k, 0], away[k, 1], away[k, 2], limit[k] = -nx / size, -ny / size, -nz / size, pinch
        ask[k, 0], ask[k, 1], ask[k, 2] = points[r, 0], points[r, 1], points[r, 2]
    closest(ask, away, 0.3, limit, 1.0, order, kids, boxes, leaves, hit, where, gap)
    for k in range(count):
        facing[rows[close[k]]] = hit[k]


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def fit(q, triangles, tree):
    """Make the `tree` fit the surface q (k, 3)."""
    order, kids, boxes, leaves = tree
    ends = np.empty((len(order), 6), np.float32)
    for part in prange(2):
        refit_leaves(q, triangles, order, leaves, ends, part * len(order) // 2, (part + 1) * len(order) // 2)
    refit_nodes(q, kids, boxes, ends)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def look(x, q, triangles, across, known, near, facing, rows, reach, seen, nearer, pinch, tree, least):
    """Find for the vertices `rows` (r,) of x (n, 4) the nearest triangle of the surface q (k, 3) within `reach` (n,), and where that is
    nearer than `pinch`, the nearest within that which faces the other way, into `near` and `facing` (n,), -1 for none.

    What is nearest along the surface from the triangle `known` (n,) is taken unless another of the `tree` is nearer than the share `nearer`
    of that. Fills `least` (r,) with how far the body is at least, looked for `seen` farther than the reach. The tree fits `q`.
    """
    half = len(rows) // 2
    for part in prange(2):
        low, high = part * half, len(rows) if part else half
        _look_range(x, q, triangles, across, known, near, facing, rows[low:high], reach, seen, nearer, pinch, tree, least[low:high])
