"""The constraints of one substep. Each list is in three parts: those of one half of the cloth, of the other, and across; the halves share
no vertex, so two threads give bit for bit what one gives."""

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
def _move(x, i, by, nx, ny, nz):
    x[i, 0] += by * nx
    x[i, 1] += by * ny
    x[i, 2] += by * nz


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _thread(x, w, a, b, c, kb, kc, soft):
    # bring the image of one thread's unit step to length 1
    ka = -kb - kc
    fx = ka * x[a, 0] + kb * x[b, 0] + kc * x[c, 0]
    fy = ka * x[a, 1] + kb * x[b, 1] + kc * x[c, 1]
    fz = ka * x[a, 2] + kb * x[b, 2] + kc * x[c, 2]
    length = np.sqrt(fx * fx + fy * fy + fz * fz)
    total = w[a] * ka * ka + w[b] * kb * kb + w[c] * kc * kc
    if length > 1e-9 and total > 0.0:
        step = (1.0 / length - 1.0) / (total + soft)
        _move(x, a, step * w[a] * ka, fx, fy, fz)
        _move(x, b, step * w[b] * kb, fx, fy, fz)
        _move(x, c, step * w[c] * kc, fx, fy, fz)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _stretch_range(x, w, faces, weave, soft, low, high):
    for k in range(low, high):
        a, b, c = faces[k, 0], faces[k, 1], faces[k, 2]
        ub, uc, vb, vc = weave[k, 0], weave[k, 1], weave[k, 2], weave[k, 3]
        _thread(x, w, a, b, c, ub, uc, soft[k, 0])
        _thread(x, w, a, b, c, vb, vc, soft[k, 1])
        ua, va = -ub - uc, -vb - vc  # then the two threads to a right angle
        ux, uy, uz = (ua * x[a, 0] + ub * x[b, 0] + uc * x[c, 0], ua * x[a, 1] + ub * x[b, 1] + uc * x[c, 1],
                      ua * x[a, 2] + ub * x[b, 2] + uc * x[c, 2])
        vx, vy, vz = (va * x[a, 0] + vb * x[b, 0] + vc * x[c, 0], va * x[a, 1] + vb * x[b, 1] + vc * x[c, 1],
                      va * x[a, 2] + vb * x[b, 2] + vc * x[c, 2])
        bx, by, bz = ub * vx + vb * ux, ub * vy + vb * uy, ub * vz + vb * uz
        cx, cy, cz = uc * vx + vc * ux, uc * vy + vc * uy, uc * vz + vc * uz
        ax, ay, az = -bx - cx, -by - cy, -bz - cz
        total = (w[a] * (ax * ax + ay * ay + az * az) + w[b] * (bx * bx + by * by + bz * bz) + w[c] * (cx * cx + cy * cy + cz * cz))
        if total > 0.0:
            step = -(ux * vx + uy * vy + uz * vz) / (total + soft[k, 2])
            _move(x, a, step * w[a], ax, ay, az)
            _move(x, b, step * w[b], bx, by, bz)
            _move(x, c, step * w[c], cx, cy, cz)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def stretches(x, w, faces, weave, soft, split):
    """Bring the warp and the weft of each face (m, 3) to their length and to a right angle, each with its compliance `soft` (m, 3) over
    the step squared; `weave` (m, 4) leads from the second and third corner to a unit step along the warp, then along the weft."""
    for part in prange(2):
        _stretch_range(x, w, faces, weave, soft, split[part], split[part + 1])
    _stretch_range(x, w, faces, weave, soft, split[2], split[3])


@njit(cache=True, nogil=True, error_model="numpy")
def stretch_give(w, faces, weave, out):
    """Fill `out` (m, 3) with what one sweep gives of itself in warp, weft and shear: half of each constraint's own mobility."""
    for k in range(len(faces)):
        a, b, c = faces[k, 0], faces[k, 1], faces[k, 2]
        ub, uc, vb, vc = weave[k, 0], weave[k, 1], weave[k, 2], weave[k, 3]
        out[k, 0] = 0.5 * (w[a] * (ub + uc) ** 2 + w[b] * ub**2 + w[c] * uc**2)
        out[k, 1] = 0.5 * (w[a] * (vb + vc) ** 2 + w[b] * vb**2 + w[c] * vc**2)
        out[k, 2] = out[k, 0] + out[k, 1]


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
def _bend_range(x, w, corners, weight, soft, rest, low, high):
    for k in range(low, high):
        a, b, c, d = corners[k, 0], corners[k, 1], corners[k, 2], corners[k, 3]
        ka, kb, kc, kd = weight[k, 0], weight[k, 1], weight[k, 2], weight[k, 3]
        wa, wb, wc, wd = w[a] * ka, w[b] * kb, w[c] * kc, w[d] * kd
        total = wa * ka + wb * kb + wc * kc + wd * kd
        if total == 0.0:
            continue
        share = 1.0 / (total + soft[k])
        nx, ny, nz = 0.0, 0.0, 0.0
        if rest[k] != 0.0:  # bent at rest: along the normal of the two faces
            ux, uy, uz = x[b, 0] - x[a, 0], x[b, 1] - x[a, 1], x[b, 2] - x[a, 2]
            vx, vy, vz = x[c, 0] - x[d, 0], x[c, 1] - x[d, 1], x[c, 2] - x[d, 2]
            nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
            size = rest[k] / max(np.sqrt(nx * nx + ny * ny + nz * nz), 1e-30)
            nx, ny, nz = nx * size, ny * size, nz * size
        lx = -(ka * x[a, 0] + kb * x[b, 0] + kc * x[c, 0] + kd * x[d, 0] - nx) * share
        ly = -(ka * x[a, 1] + kb * x[b, 1] + kc * x[c, 1] + kd * x[d, 1] - ny) * share
        lz = -(ka * x[a, 2] + kb * x[b, 2] + kc * x[c, 2] + kd * x[d, 2] - nz) * share
        x[a, 0] += wa * lx
        x[a, 1] += wa * ly
        x[a, 2] += wa * lz
        x[b, 0] += wb * lx
        x[b, 1] += wb * ly
        x[b, 2] += wb * lz
        x[c, 0] += wc * lx
        x[c, 1] += wc * ly
        x[c, 2] += wc * lz
        x[d, 0] += wd * lx
        x[d, 1] += wd * ly
        x[d, 2] += wd * lz


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def bends(x, w, corners, weight, soft, rest, split):
    """Bring the weighted sum of each four `corners` (b, 4) to its rest, with compliance `soft` (b,) over the step squared."""
    for part in prange(2):
        _bend_range(x, w, corners, weight, soft, rest, split[part], split[part + 1])
    _bend_range(x, w, corners, weight, soft, rest, split[2], split[3])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def own_give(w, rows, weight, out):
    """Fill `out` (k,) with what one sweep gives of itself: half of each constraint's own mobility.

    In one sweep a constraint sees what the neighbours before it did and not those after it. Where the load varies slowly along the cloth
    the neighbours' sum is the constraint's own mobility, so it yields half of that beside its compliance.
    """
    for k in range(len(rows)):
        own = 0.0
        for c in range(rows.shape[1]):
            own += w[rows[k, c]] * weight[k, c] ** 2
        out[k] = 0.5 * own


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
