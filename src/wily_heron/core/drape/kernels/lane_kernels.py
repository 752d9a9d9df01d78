"""What stretches, in blocks of sixteen faces that share no vertex: read together, solved side by side, written together.

Blocks are in three parts: those of one half of the cloth, of the other, and across; the halves share no vertex, so two threads give bit
for bit what one gives. A block's numbers lie one after the other, as do the corners read from the cloth, so that the compiler makes the
loop over the lanes one of wide instructions: sixteen is what it needs to think that worth its while. An empty lane repeats its block's
first and is not written.
"""

import numpy as np
from numba import njit, prange

WIDE = 16


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def _stretch_range(x, rows, held, used, low, high):
    # The images u and v of the unit steps along warp and weft are brought to length 1, one after the other, then to a right angle. A corner
    # moves by its mobility times (its share of u times A + its share of v times B); `uu`, `vv`, `uv` say what such a move does to u and v.
    s, w = np.empty(9 * WIDE, np.float32), WIDE
    one, two, little, least = np.float32(1.0), np.float32(2.0), np.float32(1e-18), np.float32(1e-20)
    for b in range(low, high):
        for k in range(WIDE):
            i, j = np.uint64(rows[b, 0, k]), np.uint64(rows[b, 1, k])
            s[k], s[w + k], s[2 * w + k] = x[j, 0] - x[i, 0], x[j, 1] - x[i, 1], x[j, 2] - x[i, 2]
            j = np.uint64(rows[b, 2, k])
            s[3 * w + k], s[4 * w + k], s[5 * w + k] = x[j, 0] - x[i, 0], x[j, 1] - x[i, 1], x[j, 2] - x[i, 2]
        n = held[b].ravel()
        for k in range(WIDE):
            px, py, pz, qx, qy, qz = s[k], s[w + k], s[2 * w + k], s[3 * w + k], s[4 * w + k], s[5 * w + k]
            ub, uc, vb, vc, wa, wb, wc = n[k], n[w + k], n[2 * w + k], n[3 * w + k], n[4 * w + k], n[5 * w + k], n[6 * w + k]
            uu, vv, uv, iu, iv, soft = n[7 * w + k], n[8 * w + k], n[9 * w + k], n[10 * w + k], n[11 * w + k], n[12 * w + k]
            ux, uy, uz = ub * px + uc * qx, ub * py + uc * qy, ub * pz + uc * qz
            vx, vy, vz = vb * px + vc * qx, vb * py + vc * qy, vb * pz + vc * qz
            by = (one / np.sqrt(ux * ux + uy * uy + uz * uz + little) - one) * iu
            ax, ay, az = by * ux, by * uy, by * uz
            ux, uy, uz, vx, vy, vz = ux + uu * ax, uy + uu * ay, uz + uu * az, vx + uv * ax, vy + uv * ay, vz + uv * az
            by = (one / np.sqrt(vx * vx + vy * vy + vz * vz + little) - one) * iv
            bx, by, bz = by * vx, by * vy, by * vz
            ux, uy, uz, vx, vy, vz = ux + uv * bx, uy + uv * by, uz + uv * bz, vx + vv * bx, vy + vv * by, vz + vv * bz
            dot = ux * vx + uy * vy + uz * vz
            total = uu * (vx * vx + vy * vy + vz * vz) + two * uv * dot + vv * (ux * ux + uy * uy + uz * uz) + soft
            turn = -dot / (total if total > least else least)
            ax, ay, az, bx, by, bz = ax + turn * vx, ay + turn * vy, az + turn * vz, bx + turn * ux, by + turn * uy, bz + turn * uz
            fa, ga, fb, gb, fc, gc = -wa * (ub + uc), -wa * (vb + vc), wb * ub, wb * vb, wc * uc, wc * vc
            s[k], s[w + k], s[2 * w + k] = fa * ax + ga * bx, fa * ay + ga * by, fa * az + ga * bz
            s[3 * w + k], s[4 * w + k], s[5 * w + k] = fb * ax + gb * bx, fb * ay + gb * by, fb * az + gb * bz
            s[6 * w + k], s[7 * w + k], s[8 * w + k] = fc * ax + gc * bx, fc * ay + gc * by, fc * az + gc * bz
        for k in range(used[b]):
            for c in range(3):
                i = np.uint64(rows[b, c, k])
                x[i, 0] += s[3 * c * w + k]
                x[i, 1] += s[(3 * c + 1) * w + k]
                x[i, 2] += s[(3 * c + 2) * w + k]


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def stretches(x, rows, held, used, split):
    """Bring the warp and the weft of each face (b, 3, 16) to their length and to a right angle. `held` (b, 13, 16) are, of each: how its
    second and third corner make a unit step along the warp, then the weft; its corners' mobility; how far a pull lengthens the warp, the
    weft, and either the other; the inverse of what warp and weft yield in all, and the compliance of shear, over the step squared."""
    for part in prange(2):
        _stretch_range(x, rows, held, used, split[part], split[part + 1])
    _stretch_range(x, rows, held, used, split[2], split[3])
