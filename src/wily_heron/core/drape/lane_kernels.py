"""The constraints that cloth has most of, in blocks of sixteen that share no vertex: read together, solved side by side, written together.

Blocks are in three parts: those of one half of the cloth, of the other, and across; the halves share no vertex, so two threads give bit
for bit what one gives. A block's numbers lie one after the other, as do the corners read from the cloth, so that the compiler makes the
loop over the lanes one of wide instructions: sixteen is what it needs to think that worth its while. An empty lane repeats its block's
first and is not written.
"""

import numpy as np
from numba import njit, prange

WIDE = 16
CROWDED = 62


@njit(cache=True, nogil=True)
def colours(rows, group, vertices):
    """Return `(k,)` a colour for each constraint `rows` (k, c): those of one colour in one `group` (k,), ascending, share no vertex, but
    for those of the colour `CROWDED`, about which nothing is known; there are so many `vertices` in all."""
    out = np.empty(len(rows), np.int64)
    used, stamp = np.zeros(vertices, np.int64), np.full(vertices, -1, np.int64)
    for k in range(len(rows)):
        taken = 0
        for c in range(rows.shape[1]):
            v = rows[k, c]
            if stamp[v] != group[k]:
                stamp[v], used[v] = group[k], 0
            taken |= used[v]
        colour = 0
        while colour < CROWDED and taken & (1 << colour):
            colour += 1
        for c in range(rows.shape[1]):
            used[rows[k, c]] |= 1 << colour
        out[k] = colour
    return out


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _read(x, rows, b, corners, s):
    for c in range(corners):
        for k in range(WIDE):
            i = rows[b, c, k]
            s[3 * c * WIDE + k], s[(3 * c + 1) * WIDE + k], s[(3 * c + 2) * WIDE + k] = x[i, 0], x[i, 1], x[i, 2]


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _write(x, rows, b, corners, s, used):
    for c in range(corners):
        for k in range(used):
            i = rows[b, c, k]
            x[i, 0], x[i, 1], x[i, 2] = s[3 * c * WIDE + k], s[(3 * c + 1) * WIDE + k], s[(3 * c + 2) * WIDE + k]


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def _stretch_range(x, rows, held, used, low, high):
    # The images u and v of the unit steps along warp and weft are brought to length 1, one after the other, then to a right angle. A corner
    # moves by its mobility times (its share of u times A + its share of v times B); `uu`, `vv`, `uv` say what such a move does to u and v.
    s, w = np.empty(9 * WIDE), WIDE
    for b in range(low, high):
        _read(x, rows, b, 3, s)
        n = held[b].ravel()
        for k in range(WIDE):
            x0, y0, z0, x1, y1, z1 = s[k], s[w + k], s[2 * w + k], s[3 * w + k], s[4 * w + k], s[5 * w + k]
            x2, y2, z2 = s[6 * w + k], s[7 * w + k], s[8 * w + k]
            ub, uc, vb, vc, wa, wb, wc = n[k], n[w + k], n[2 * w + k], n[3 * w + k], n[4 * w + k], n[5 * w + k], n[6 * w + k]
            uu, vv, uv, iu, iv, soft = n[7 * w + k], n[8 * w + k], n[9 * w + k], n[10 * w + k], n[11 * w + k], n[12 * w + k]
            px, py, pz, qx, qy, qz = x1 - x0, y1 - y0, z1 - z0, x2 - x0, y2 - y0, z2 - z0
            ux, uy, uz = ub * px + uc * qx, ub * py + uc * qy, ub * pz + uc * qz
            vx, vy, vz = vb * px + vc * qx, vb * py + vc * qy, vb * pz + vc * qz
            by = (1.0 / np.sqrt(ux * ux + uy * uy + uz * uz + 1e-18) - 1.0) * iu
            ax, ay, az = by * ux, by * uy, by * uz
            ux, uy, uz, vx, vy, vz = ux + uu * ax, uy + uu * ay, uz + uu * az, vx + uv * ax, vy + uv * ay, vz + uv * az
            by = (1.0 / np.sqrt(vx * vx + vy * vy + vz * vz + 1e-18) - 1.0) * iv
            bx, by, bz = by * vx, by * vy, by * vz
            ux, uy, uz, vx, vy, vz = ux + uv * bx, uy + uv * by, uz + uv * bz, vx + vv * bx, vy + vv * by, vz + vv * bz
            dot = ux * vx + uy * vy + uz * vz
            total = uu * (vx * vx + vy * vy + vz * vz) + 2.0 * uv * dot + vv * (ux * ux + uy * uy + uz * uz)
            turn = -dot / max(total + soft, 1e-20)
            ax, ay, az, bx, by, bz = ax + turn * vx, ay + turn * vy, az + turn * vz, bx + turn * ux, by + turn * uy, bz + turn * uz
            fa, ga, fb, gb, fc, gc = -wa * (ub + uc), -wa * (vb + vc), wb * ub, wb * vb, wc * uc, wc * vc
            s[k], s[w + k], s[2 * w + k] = x0 + fa * ax + ga * bx, y0 + fa * ay + ga * by, z0 + fa * az + ga * bz
            s[3 * w + k], s[4 * w + k], s[5 * w + k] = x1 + fb * ax + gb * bx, y1 + fb * ay + gb * by, z1 + fb * az + gb * bz
            s[6 * w + k], s[7 * w + k], s[8 * w + k] = x2 + fc * ax + gc * bx, y2 + fc * ay + gc * by, z2 + fc * az + gc * bz
        _write(x, rows, b, 3, s, used[b])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def stretches(x, rows, held, used, split):
    """Bring the warp and the weft of each face (b, 3, 16) to their length and to a right angle. `held` (b, 13, 16) are, of each: how its
    second and third corner make a unit step along the warp, then the weft; its corners' mobility; how far a pull lengthens the warp, the
    weft, and either the other; the inverse of what warp and weft yield in all, and the compliance of shear, over the step squared."""
    for part in prange(2):
        _stretch_range(x, rows, held, used, split[part], split[part + 1])
    _stretch_range(x, rows, held, used, split[2], split[3])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def _bend_range(x, rows, held, used, low, high):
    s, w = np.empty(12 * WIDE), WIDE
    for b in range(low, high):
        _read(x, rows, b, 4, s)
        n = held[b].ravel()
        for k in range(WIDE):
            x0, y0, z0, x1, y1, z1 = s[k], s[w + k], s[2 * w + k], s[3 * w + k], s[4 * w + k], s[5 * w + k]
            x2, y2, z2, x3, y3, z3 = s[6 * w + k], s[7 * w + k], s[8 * w + k], s[9 * w + k], s[10 * w + k], s[11 * w + k]
            ka, kb, kc, kd, curve = n[k], n[w + k], n[2 * w + k], n[3 * w + k], n[8 * w + k]
            sa, sb, sc, sd = n[4 * w + k], n[5 * w + k], n[6 * w + k], n[7 * w + k]
            ux, uy, uz, vx, vy, vz = x1 - x0, y1 - y0, z1 - z0, x2 - x3, y2 - y3, z2 - z3
            nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
            size = curve / np.sqrt(nx * nx + ny * ny + nz * nz + 1e-30)  # bent at rest: along the normal of the two faces
            lx = ka * x0 + kb * x1 + kc * x2 + kd * x3 - size * nx
            ly = ka * y0 + kb * y1 + kc * y2 + kd * y3 - size * ny
            lz = ka * z0 + kb * z1 + kc * z2 + kd * z3 - size * nz
            s[k], s[w + k], s[2 * w + k] = x0 - sa * lx, y0 - sa * ly, z0 - sa * lz
            s[3 * w + k], s[4 * w + k], s[5 * w + k] = x1 - sb * lx, y1 - sb * ly, z1 - sb * lz
            s[6 * w + k], s[7 * w + k], s[8 * w + k] = x2 - sc * lx, y2 - sc * ly, z2 - sc * lz
            s[9 * w + k], s[10 * w + k], s[11 * w + k] = x3 - sd * lx, y3 - sd * ly, z3 - sd * lz
        _write(x, rows, b, 4, s, used[b])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def bends(x, rows, held, used, split):
    """Bring the weighted sum of each four corners (b, 4, 16) to its rest. `held` (b, 9, 16) are, of each: the corners' weights; the share
    of what is amiss that each corner moves; and how far off flat it is at rest."""
    for part in prange(2):
        _bend_range(x, rows, held, used, split[part], split[part + 1])
    _bend_range(x, rows, held, used, split[2], split[3])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def _link_range(x, rows, held, used, low, high):
    s, w = np.empty(6 * WIDE), WIDE
    for b in range(low, high):
        _read(x, rows, b, 2, s)
        n = held[b].ravel()
        over = 0.0
        for k in range(WIDE):
            dx, dy, dz = s[k] - s[3 * w + k], s[w + k] - s[4 * w + k], s[2 * w + k] - s[5 * w + k]
            over = max(over, dx * dx + dy * dy + dz * dz - n[k] * n[k])
        if over <= 0.0:
            continue
        for k in range(WIDE):
            dx, dy, dz = s[k] - s[3 * w + k], s[w + k] - s[4 * w + k], s[2 * w + k] - s[5 * w + k]
            by = min(n[k] / np.sqrt(dx * dx + dy * dy + dz * dz + 1e-18) - 1.0, 0.0)
            i, j = by * n[w + k], by * n[2 * w + k]
            s[k], s[w + k], s[2 * w + k] = s[k] + i * dx, s[w + k] + i * dy, s[2 * w + k] + i * dz
            s[3 * w + k], s[4 * w + k], s[5 * w + k] = s[3 * w + k] - j * dx, s[4 * w + k] - j * dy, s[5 * w + k] - j * dz
        _write(x, rows, b, 2, s, used[b])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def links(x, rows, held, used, split):
    """Keep the ends (b, 2, 16) of long links near. `held` (b, 3, 16) are, of each, the greatest length, and the share of what is amiss that
    each end moves."""
    for part in prange(2):
        _link_range(x, rows, held, used, split[part], split[part + 1])
    _link_range(x, rows, held, used, split[2], split[3])
