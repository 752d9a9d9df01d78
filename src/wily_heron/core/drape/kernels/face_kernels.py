"""Cloth on cloth, vertices against faces: layers keep their order."""

import numpy as np
from numba import njit

from ...space.triangle_kernels import nearest_weights

_STEPS = 4
"""How many faces a vertex may walk over in one substep."""
_CALM = 0.002
"""Metres: what lies too deep is moved no farther than this by a face in one substep, so that nothing is flung."""
_LEAN = 0.1
"""Of the weight it would have if all of it were as free as its freest vertex, a contact has at least this: held vertices beside one that
is free by a sliver would fling it."""
_TORN = 0.5
"""A face longer than this (metres) along an axis is not watched."""
BETWEEN = 0.0012
"""Metres between layers beside their thickness: so much their faces dip between the corners."""


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def faces_near(x, triangles, layer, up, reach, moves):
    """Return `(ends (k, 2), side (k,))`: vertices and the nearest face of the layers below each, and of those above, within `reach` metres,
    and what both may move by `moves` (n,) before they are looked for again, and on which side each is to be.

    A vertex of a higher `layer` (n,) belongs on the outside of a lower one's faces, one of a lower inside a higher one's. Outside is
    where `up` (n, 3) points, away from the body at each vertex, whichever way a face is turned; where nothing is told of that (0), or a
    face stands across it, outside is where the face looks, and one of a lower layer is held inside only if it is there now.
    """
    n, m, cell = len(x), len(triangles), 2.0 * (reach + 2.0 * moves.mean())
    size = 1
    while size < 4 * m:
        size *= 2
    box = np.empty((m, 8))  # of each face: from where, its layer, to where, and how far from there it is watched
    start = np.zeros(size + 1, np.int64)
    for t in range(m):
        box[t, 3] = layer[triangles[t, 0]]
        box[t, 7] = reach + max(moves[triangles[t, 0]], moves[triangles[t, 1]], moves[triangles[t, 2]])
        for a in range(3):
            box[t, a] = min(x[triangles[t, 0], a], x[triangles[t, 1], a], x[triangles[t, 2], a])
            box[t, 4 + a] = max(x[triangles[t, 0], a], x[triangles[t, 1], a], x[triangles[t, 2], a])
        _into_cells(t, box, cell, size, start, start, False)  # each face in every cell it reaches into: counted, then put there
    for k in range(size):
        start[k + 1] += start[k]
    order, fill = np.empty(start[size], np.int64), start[:size].copy()
    for t in range(m):
        _into_cells(t, box, cell, size, order, fill, True)
    ends, side, count = np.empty((2 * n, 2), np.int32), np.empty(2 * n), 0
    near, found, turn = np.empty(2), np.empty(2, np.int64), np.empty(2)  # below the vertex, and above it
    for i in range(n):
        near[:], found[:] = 1e9, -1
        for cx in range(int(np.floor((x[i, 0] - moves[i]) / cell)), int(np.floor((x[i, 0] + moves[i]) / cell)) + 1):
            for cy in range(int(np.floor((x[i, 1] - moves[i]) / cell)), int(np.floor((x[i, 1] + moves[i]) / cell)) + 1):
                for cz in range(int(np.floor((x[i, 2] - moves[i]) / cell)), int(np.floor((x[i, 2] + moves[i]) / cell)) + 1):
                    k = _cell(cx, cy, cz, size)
                    _nearer(i, order, start[k], start[k + 1], x, triangles, layer[i], up, box, moves[i], near, found, turn)
        for k in range(2):
            if found[k] >= 0:
                ends[count, 0], ends[count, 1], side[count] = i, found[k], turn[k]
                count += 1
    return ends[:count].copy(), side[:count].copy()


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def _nearer(i, order, begin, end, x, triangles, own, up, box, moves, near, found, turn):
    # take those faces, of order[begin:end], that are nearer to the vertex than those `found` (2,) below and above it
    ax, ay, az = x[i, 0], x[i, 1], x[i, 2]
    for r in range(begin, end):
        t = order[r]
        if own == box[t, 3]:
            continue
        k = 0 if own > box[t, 3] else 1
        most = min(box[t, 7] + moves, near[k])
        if (ax < box[t, 0] - most or ax > box[t, 4] + most or ay < box[t, 1] - most or ay > box[t, 5] + most or az < box[t, 2] - most
                or az > box[t, 6] + most):
            continue
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        distance, along, _, _ = _off(np.int32(i), x, a, b, c)  # of the kind that `ends` are: two would be compiled twice
        if distance > most:
            continue
        nx, ny, nz = _normal(x, a, b, c)
        lies = nx * up[i, 0] + ny * up[i, 1] + nz * up[i, 2]
        way = -1.0 if lies < -0.3 else 1.0
        if k == 0 or way * along < (0.004 if abs(lies) > 0.3 else 0.0):
            near[k], found[k], turn[k] = distance, t, way if k == 0 else -way


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _cell(x, y, z, size):
    return ((x * 73856093) ^ (y * 19349663) ^ (z * 83492791)) & (size - 1)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def _into_cells(t, box, cell, size, out, at, put):
    # count the cells where a face is watched, or put the face into each
    far = box[t, 7]
    if max(box[t, 4] - box[t, 0], box[t, 5] - box[t, 1], box[t, 6] - box[t, 2]) > _TORN:
        return
    for i in range(int(np.floor((box[t, 0] - far) / cell)), int(np.floor((box[t, 4] + far) / cell)) + 1):
        for j in range(int(np.floor((box[t, 1] - far) / cell)), int(np.floor((box[t, 5] + far) / cell)) + 1):
            for k in range(int(np.floor((box[t, 2] - far) / cell)), int(np.floor((box[t, 6] + far) / cell)) + 1):
                key = _cell(i, j, k, size)
                if put:
                    out[at[key]] = t
                    at[key] += 1
                else:
                    at[key + 1] += 1


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def _off(i, x, a, b, c):
    # how far the vertex is from the face, how far along its normal, and where the nearest point is
    u, v = nearest_weights(x[i, 0], x[i, 1], x[i, 2], x[a, 0], x[a, 1], x[a, 2], x[b, 0], x[b, 1], x[b, 2], x[c, 0], x[c, 1], x[c, 2])
    w = 1.0 - u - v
    dx = x[i, 0] - w * x[a, 0] - u * x[b, 0] - v * x[c, 0]
    dy = x[i, 1] - w * x[a, 1] - u * x[b, 1] - v * x[c, 1]
    dz = x[i, 2] - w * x[a, 2] - u * x[b, 2] - v * x[c, 2]
    nx, ny, nz = _normal(x, a, b, c)
    return np.sqrt(dx * dx + dy * dy + dz * dz), dx * nx + dy * ny + dz * nz, u, v


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _normal(x, a, b, c):
    ux, uy, uz = x[b, 0] - x[a, 0], x[b, 1] - x[a, 1], x[b, 2] - x[a, 2]
    vx, vy, vz = x[c, 0] - x[a, 0], x[c, 1] - x[a, 1], x[c, 2] - x[a, 2]
    nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
    size = 1.0 / max(np.sqrt(nx * nx + ny * ny + nz * nz), 1e-30)
    return nx * size, ny * size, nz * size


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _walk(i, t, turn, x, triangles, across):
    # go on from face t to what is nearest; returns it, which way it is turned beside what was asked of t, and what `_off` tells of it
    distance, along, u, v = _off(i, x, triangles[t, 0], triangles[t, 1], triangles[t, 2])
    for _ in range(_STEPS):
        moved = False
        for s in range(3):  # sides lie opposite the corner whose weight is nothing
            other = across[t, s]
            if other < 0 or (v if s == 0 else (1.0 - u - v if s == 1 else u)) > 1e-9:
                continue
            distance2, along2, u2, v2 = _off(i, x, triangles[other, 0], triangles[other, 1], triangles[other, 2])
            if distance2 < distance - 1e-9:
                one, two = triangles[t, s], triangles[t, (s + 1) % 3]
                for c in range(3):
                    if triangles[other, c] == one and triangles[other, (c + 1) % 3] == two:
                        turn = -turn  # both run along their side the same way
                t, distance, along, u, v, moved = other, distance2, along2, u2, v2, True
                break
        if not moved:
            break
    return t, turn, distance, along, u, v


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def keep_on_side(x, p, w, ends, side, idle, triangles, across, thickness, friction):
    """Keep the vertices of `ends` (k, 2) on their `side` (k,) of its faces, apart by the two's thickness and `BETWEEN`, and rub. The faces
    are walked on from, to those `across` (m, 3) their sides.

    Only what lies over a face is held by it. Coming together is stopped; what lies deeper is moved without gaining speed. `idle` (k,) is
    how far each two may still come together before they can touch: they are passed over until they have.
    """
    for k in range(len(ends)):
        i, t = ends[k, 0], ends[k, 1]
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        if idle[k] > 0.0:
            mx, my, mz, most = x[i, 0] - p[i, 0], x[i, 1] - p[i, 1], x[i, 2] - p[i, 2], 0.0
            for q in (a, b, c):
                most = max(most, abs(mx - x[q, 0] + p[q, 0]) + abs(my - x[q, 1] + p[q, 1]) + abs(mz - x[q, 2] + p[q, 2]))
            idle[k] -= most
            if idle[k] > 0.0:
                continue
        t, side[k], distance, along, u, v = _walk(i, t, side[k], x, triangles, across)
        ends[k, 1], a, b, c = t, triangles[t, 0], triangles[t, 1], triangles[t, 2]
        apart = 0.5 * (thickness[i] + thickness[a]) + BETWEEN
        short = apart - side[k] * along
        s = 1.0 - u - v
        if short <= 0.0 or distance - abs(along) > 0.3 * apart or distance > 0.02:
            idle[k] = max(0.0, distance - 1.4 * apart)
            continue
        free = max(w[i], w[a], w[b], w[c])
        both = max(w[i] + s * s * w[a] + u * u * w[b] + v * v * w[c], _LEAN * free)
        if free == 0.0:
            continue
        nx, ny, nz = _normal(x, a, b, c)
        nx, ny, nz = nx * side[k], ny * side[k], nz * side[k]
        rx = (x[i, 0] - p[i, 0]) - s * (x[a, 0] - p[a, 0]) - u * (x[b, 0] - p[b, 0]) - v * (x[c, 0] - p[c, 0])
        ry = (x[i, 1] - p[i, 1]) - s * (x[a, 1] - p[a, 1]) - u * (x[b, 1] - p[b, 1]) - v * (x[c, 1] - p[c, 1])
        rz = (x[i, 2] - p[i, 2]) - s * (x[a, 2] - p[a, 2]) - u * (x[b, 2] - p[b, 2]) - v * (x[c, 2] - p[c, 2])
        near = rx * nx + ry * ny + rz * nz
        stop = min(short, max(0.0, -near))
        calm = min(short, _CALM) - min(stop, _CALM)
        tx, ty, tz = rx - near * nx, ry - near * ny, rz - near * nz
        slide = np.sqrt(tx * tx + ty * ty + tz * tz)
        rub = 0.5 * (friction[i] + friction[a])
        back = min(1.0, rub * stop / slide) if slide > 1e-12 else 0.0
        for vertex, share in ((i, 1.0), (a, -s), (b, -u), (c, -v)):
            by = share * w[vertex] / both
            x[vertex, 0] += by * ((stop + calm) * nx - back * tx)
            x[vertex, 1] += by * ((stop + calm) * ny - back * ty)
            x[vertex, 2] += by * ((stop + calm) * nz - back * tz)
            p[vertex, 0] += by * calm * nx
            p[vertex, 1] += by * calm * ny
            p[vertex, 2] += by * calm * nz
