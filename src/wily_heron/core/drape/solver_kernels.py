"""What a substep does, but for what stretches. Each list of constraints is in three parts: those of one half of the cloth, of the other,
and across; the halves share no vertex, so two threads give bit for bit what one gives."""

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


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _link_range(x, w, ends, most, low, high):
    for k in range(low, high):
        i, j = ends[k, 0], ends[k, 1]
        dx, dy, dz = x[i, 0] - x[j, 0], x[i, 1] - x[j, 1], x[i, 2] - x[j, 2]
        square = dx * dx + dy * dy + dz * dz
        if square <= most[k] * most[k]:
            continue
        both = w[i] + w[j]
        if both == 0.0:
            continue
        step = (most[k] / np.sqrt(square) - 1.0) / both
        _apart(x, i, j, step * w[i], step * w[j], dx, dy, dz)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def links(x, w, ends, most, split):
    """Keep the ends (l, 2) of long links no farther apart than `most` (l,) metres."""
    for part in prange(2):
        _link_range(x, w, ends, most, split[part], split[part + 1])
    _link_range(x, w, ends, most, split[2], split[3])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _bend_range(x, corners, weight, share, rest, low, high):
    for k in range(low, high):
        a, b, c, d = corners[k, 0], corners[k, 1], corners[k, 2], corners[k, 3]
        ka, kb, kc, kd = weight[k, 0], weight[k, 1], weight[k, 2], weight[k, 3]
        sa, sb, sc, sd = share[k, 0], share[k, 1], share[k, 2], share[k, 3]
        x0, y0, z0, x1, y1, z1 = x[a, 0], x[a, 1], x[a, 2], x[b, 0], x[b, 1], x[b, 2]
        x2, y2, z2, x3, y3, z3 = x[c, 0], x[c, 1], x[c, 2], x[d, 0], x[d, 1], x[d, 2]
        lx = ka * x0 + kb * x1 + kc * x2 + kd * x3
        ly = ka * y0 + kb * y1 + kc * y2 + kd * y3
        lz = ka * z0 + kb * z1 + kc * z2 + kd * z3
        if rest[k] != 0.0:  # bent at rest: along the normal of the two faces
            ux, uy, uz = x1 - x0, y1 - y0, z1 - z0
            vx, vy, vz = x2 - x3, y2 - y3, z2 - z3
            nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
            size = rest[k] / max(np.sqrt(nx * nx + ny * ny + nz * nz), 1e-30)
            lx, ly, lz = lx - size * nx, ly - size * ny, lz - size * nz
        x[a, 0], x[a, 1], x[a, 2] = x0 - sa * lx, y0 - sa * ly, z0 - sa * lz
        x[b, 0], x[b, 1], x[b, 2] = x1 - sb * lx, y1 - sb * ly, z1 - sb * lz
        x[c, 0], x[c, 1], x[c, 2] = x2 - sc * lx, y2 - sc * ly, z2 - sc * lz
        x[d, 0], x[d, 1], x[d, 2] = x3 - sd * lx, y3 - sd * ly, z3 - sd * lz


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def bends(x, corners, weight, share, rest, split):
    """Bring the weighted sum of each four `corners` (b, 4) to its rest, each corner moving by its `share` (b, 4) of what is amiss."""
    for part in prange(2):
        _bend_range(x, corners, weight, share, rest, split[part], split[part + 1])
    _bend_range(x, corners, weight, share, rest, split[2], split[3])


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
