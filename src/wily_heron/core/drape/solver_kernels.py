"""What a substep does but for the constraints there are most of. Where threads share the work, each has one half of the cloth."""

import numpy as np
from numba import njit, prange


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _apart(x, i, j, by_i, by_j, dx, dy, dz):
    x[i, 0] += by_i * dx
    x[i, 1] += by_i * dy
    x[i, 2] += by_i * dz
    x[j, 0] -= by_j * dx
    x[j, 1] -= by_j * dy
    x[j, 2] -= by_j * dz


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _edge_range(x, w, ends, rest, soft, low, high):
    for k in range(low, high):
        i, j = ends[k, 0], ends[k, 1]
        both = w[i] + w[j]
        if both == 0.0:
            continue
        dx, dy, dz = x[i, 0] - x[j, 0], x[i, 1] - x[j, 1], x[i, 2] - x[j, 2]
        length = np.sqrt(dx * dx + dy * dy + dz * dz)
        if length < 1e-12:
            continue
        step = (rest[k] / length - 1.0) / (both + soft[k])
        _apart(x, i, j, step * w[i], step * w[j], dx, dy, dz)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def edges(x, w, ends, rest, soft, split):
    """Bring each edge `ends` (e, 2) to `rest` (e,) with compliance `soft` (e,) over the step squared."""
    for part in prange(2):
        _edge_range(x, w, ends, rest, soft, split[part], split[part + 1])
    _edge_range(x, w, ends, rest, soft, split[2], split[3])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def straps(x, w, ends, most):
    """Keep the ends (l, 2) of straps no farther apart than `most` (l,) metres."""
    for k in range(len(ends)):
        i, j = ends[k, 0], ends[k, 1]
        dx, dy, dz = x[i, 0] - x[j, 0], x[i, 1] - x[j, 1], x[i, 2] - x[j, 2]
        square, both = dx * dx + dy * dy + dz * dz, w[i] + w[j]
        if square > most[k] * most[k] and both > 0.0:
            step = (most[k] / np.sqrt(square) - 1.0) / both
            _apart(x, i, j, step * w[i], step * w[j], dx, dy, dz)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def tethers(x, w, tied, to, most):
    """Keep each vertex `tied` (t,) no farther than `most` (t,) metres from the held vertex `to` (t,)."""
    for k in range(len(tied)):
        i, j = tied[k], to[k]
        if w[i] == 0.0:
            continue
        dx, dy, dz = x[i, 0] - x[j, 0], x[i, 1] - x[j, 1], x[i, 2] - x[j, 2]
        square = dx * dx + dy * dy + dz * dz
        if square > most[k] * most[k]:
            size = most[k] / np.sqrt(square) - 1.0
            x[i, 0] += size * dx
            x[i, 1] += size * dy
            x[i, 2] += size * dz


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def begin(x, p, v, w, normal, area, wind, gravity, drag, pressure, slow, dt, halves):
    """Take each free vertex on by its velocity (n, 3) under gravity, air against its `area` (n,) along `normal` (n, 3), `pressure` (n,) in
    N/m2 on its inside, and damping.

    `drag` is half the density of air times the drag coefficient (kg/m3), `slow` (n,) the share of velocity kept. The pull of the air never
    reverses the velocity it acts against.
    """
    for part in prange(2):
        for i in range(halves[part], halves[part + 1]):
            p[i, 0], p[i, 1], p[i, 2] = x[i, 0], x[i, 1], x[i, 2]
            if w[i] == 0.0:
                continue
            rx, ry, rz = wind[0] - v[i, 0], wind[1] - v[i, 1], wind[2] - v[i, 2]
            along = rx * normal[i, 0] + ry * normal[i, 1] + rz * normal[i, 2]
            pull = drag * area[i] * abs(along) * w[i] * dt
            pull = pull / (1.0 + pull) * along + pressure[i] * area[i] * w[i] * dt
            v[i, 0] = slow[i] * (v[i, 0] + pull * normal[i, 0])
            v[i, 1] = slow[i] * (v[i, 1] + pull * normal[i, 1] + gravity * dt)
            v[i, 2] = slow[i] * (v[i, 2] + pull * normal[i, 2])
            x[i, 0] += v[i, 0] * dt
            x[i, 1] += v[i, 1] * dt
            x[i, 2] += v[i, 2] * dt


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def hold(x, held, share, goal0, goal1, t):
    """Bring the vertices `held` (h,) by `share` (h,) of the way to where they are worn, between `goal0` and `goal1` (h, 3) at `t`."""
    for k in range(len(held)):
        i = held[k]
        for a in range(3):
            goal = goal0[k, a] + t * (goal1[k, a] - goal0[k, a])
            x[i, a] += share[k] * (goal - x[i, a])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def end(x, p, v, dt, halves):
    """Take the velocity (n, 3) from what the substep came to."""
    for part in prange(2):
        for i in range(halves[part], halves[part + 1]):
            for a in range(3):
                v[i, a] = (x[i, a] - p[i, a]) / dt


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def faces_out(x, triangles, normal, area):
    """Fill each vertex's unit `normal` (n, 3) and its share of the faces' `area` (n,)."""
    normal[:] = 0.0
    area[:] = 0.0
    for t in range(len(triangles)):
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
    for i in range(len(x)):
        size = max(np.sqrt(normal[i, 0] ** 2 + normal[i, 1] ** 2 + normal[i, 2] ** 2), 1e-30)
        normal[i, 0] /= size
        normal[i, 1] /= size
        normal[i, 2] /= size
