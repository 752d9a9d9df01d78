# Numba gives intrinsics their first argument itself:
# pyright: reportCallIssue=false
"""What a substep does, but for what stretches. Each list of constraints is in three parts: those of one half of the cloth, of the other,
and across; the halves share no vertex, so two threads give bit for bit what one gives. Points and velocities are rows of four (n, 4)."""

import numpy as np
from numba import njit, prange

from .simd4 import cross, dot, of_row, put, row, single_row


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _edge_range(x, w, ends, rest, soft, low, high):
    for k in range(low, high):
        i, j = ends[k, 0], ends[k, 1]
        both = w[i] + w[j]
        if both == 0.0:
            continue
        xi, xj = row(x, i), row(x, j)
        way = xi - xj
        length = np.sqrt(dot(way, way))
        if length < 1e-12:
            continue
        step = (rest[k] / length - 1.0) / (both + soft[k])
        put(x, i, xi + way * (step * w[i]))
        put(x, j, xj - way * (step * w[j]))


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def edges(x, w, ends, rest, soft, split):
    """Bring each edge `ends` (e, 2) to `rest` (e,) with compliance `soft` (e,) over the step squared."""
    for part in prange(2):
        _edge_range(x, w, ends, rest, soft, split[part], split[part + 1])
    _edge_range(x, w, ends, rest, soft, split[2], split[3])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _link_range(x, w, ends, most, low, high):
    for k in range(low, high):  # slack links go through the same motions: to guess which they are takes longer
        i, j = ends[k, 0], ends[k, 1]
        xi, xj = row(x, i), row(x, j)
        way = xi - xj
        far, taut = dot(way, way), np.float64(most[k]) * most[k]
        step = min(taut - far, 0.0) / ((0.5 * taut + 1.5 * far) * max(w[i] + w[j], 1e-30))
        put(x, i, xi + way * (step * w[i]))
        put(x, j, xj - way * (step * w[j]))


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def links(x, w, ends, most, start, stop):
    """Keep the ends (l, 2) of long links no farther apart than `most` (l,) metres; of each part those from `start` to `stop` (3,).

    How much too long one is, a root, is taken to the second order in that: of a tenth too much one part in four hundred is left.
    """
    for part in prange(2):
        _link_range(x, w, ends, most, start[part], stop[part])
    _link_range(x, w, ends, most, start[2], stop[2])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def straps(x, w, ends, most):
    """Keep the ends (s, 2) of straps no farther apart than `most` (s,) metres, however far that is to go."""
    for k in range(len(ends)):
        i, j = ends[k, 0], ends[k, 1]
        xi, xj = row(x, i), row(x, j)
        way = xi - xj
        step = min(most[k] / np.sqrt(max(dot(way, way), 1e-24)) - 1.0, 0.0) / max(w[i] + w[j], 1e-30)
        put(x, i, xi + way * (step * w[i]))
        put(x, j, xj - way * (step * w[j]))


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _nearly_range(x, ends, most, share, near_ends, near_most, low, high):
    count = low
    for k in range(low, high):  # each is written, and the next over it if it is slack: to guess which they are takes longer
        i, j = ends[k, 0], ends[k, 1]
        way = row(x, i) - row(x, j)
        near_ends[count, 0], near_ends[count, 1], near_most[count] = i, j, most[k]
        count += int(dot(way, way) > share * share * most[k] * most[k])
    return count


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def nearly_taut(x, ends, most, share, split, near_ends, near_most, stop):
    """Put the links longer than that `share` of `most` one after the other into `near_ends` (l, 2) and `near_most` (l,), those of each
    part from where it begins, and into `stop` (3,) where they end."""
    for part in prange(2):
        stop[part] = _nearly_range(x, ends, most, share, near_ends, near_most, split[part], split[part + 1])
    stop[2] = _nearly_range(x, ends, most, share, near_ends, near_most, split[2], split[3])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _bend_range(x, corners, weight, moves, rest, low, high):
    for k in range(low, high):
        a, b, c, d = corners[k, 0], corners[k, 1], corners[k, 2], corners[k, 3]
        xa, xb, xc, xd = row(x, a), row(x, b), row(x, c), row(x, d)
        by, move = single_row(weight, k), single_row(moves, k)
        off = xa * of_row(by, 0) + xb * of_row(by, 1) + xc * of_row(by, 2) + xd * of_row(by, 3)
        off = off - cross(xb - xa, xc - xd) * rest[k]
        put(x, a, xa - off * of_row(move, 0))
        put(x, b, xb - off * of_row(move, 1))
        put(x, c, xc - off * of_row(move, 2))
        put(x, d, xd - off * of_row(move, 3))


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def bends(x, corners, weight, moves, rest, split):
    """Bring the `weight` (b, 4) times each four `corners` (b, 4) to `rest` (b,) times the outer product of the edge and the way between the
    far corners, which stands on the two faces; each corner moves by `moves` (b, 4) of what is amiss.

    That product is as long as the faces are large: where they are drawn together, what is bent at rest is by as much less so. All but the
    corners are single floats: what is read from memory costs most.
    """
    for part in prange(2):
        _bend_range(x, corners, weight, moves, rest, split[part], split[part + 1])
    _bend_range(x, corners, weight, moves, rest, split[2], split[3])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def tethers(x, w, tied, to, most):
    """Keep each vertex `tied` (t,) no farther than `most` (t,) metres from the held vertex `to` (t,), which is not tied itself."""
    for part in prange(2):
        for k in range(part * len(tied) // 2, (part + 1) * len(tied) // 2):
            i, j = tied[k], to[k]
            if w[i] == 0.0:
                continue
            xi = row(x, i)
            way = xi - row(x, j)
            put(x, i, xi + way * min(most[k] / np.sqrt(max(dot(way, way), 1e-24)) - 1.0, 0.0))


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _faces_range(x, triangles, normal, area, low, high):
    for t in range(low, high):
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        ux, uy, uz = x[b, 0] - x[a, 0], x[b, 1] - x[a, 1], x[b, 2] - x[a, 2]
        vx, vy, vz = x[c, 0] - x[a, 0], x[c, 1] - x[a, 1], x[c, 2] - x[a, 2]
        nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        size = np.sqrt(nx * nx + ny * ny + nz * nz) / 6.0
        for v in (a, b, c):
            normal[v, 0] += nx
            normal[v, 1] += ny
            normal[v, 2] += nz
            area[v] += size


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def faces_out(x, triangles, split, normal, area):
    """Fill each vertex's unit `normal` (n, 3) and its share of the faces' `area` (n,)."""
    normal[:] = 0.0
    area[:] = 0.0
    for part in prange(2):
        _faces_range(x, triangles, normal, area, split[part], split[part + 1])
    _faces_range(x, triangles, normal, area, split[2], split[3])
    for part in prange(2):
        for i in range(part * len(x) // 2, (part + 1) * len(x) // 2):
            size = 1.0 / max(np.sqrt(normal[i, 0] ** 2 + normal[i, 1] ** 2 + normal[i, 2] ** 2), 1e-30)
            normal[i, 0] *= size
            normal[i, 1] *= size
            normal[i, 2] *= size


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def off_length(x, threads, rest, counts, shares):
    """Return what the `threads` (e, 2) off their length `rest` (e,) by more than each of three `shares` count for (e,) in all."""
    found = (0.0, 0.0, 0.0)
    for k in range(len(threads)):
        way = row(x, threads[k, 0]) - row(x, threads[k, 1])
        off, one = abs(np.sqrt(dot(way, way)) / rest[k] - 1.0), counts[k]
        found = (found[0] + one * (off > shares[0]), found[1] + one * (off > shares[1]), found[2] + one * (off > shares[2]))
    return found
