"""The nearest point of one triangle."""

from numba import njit


@njit(cache=True, nogil=True, inline="always")
def nearest_weights(px, py, pz, ax, ay, az, bx, by, bz, cx, cy, cz):
    """Return the barycentric weights of the second and third corner at the point of triangle a, b, c nearest to p.

    Follows: Ericson, Real-Time Collision Detection, 2005, section 5.1.5.
    """
    abx, aby, abz = bx - ax, by - ay, bz - az
    acx, acy, acz = cx - ax, cy - ay, cz - az
    apx, apy, apz = px - ax, py - ay, pz - az
    d1, d2 = abx * apx + aby * apy + abz * apz, acx * apx + acy * apy + acz * apz
    v, w = 0.0, 0.0
    if d1 > 0 or d2 > 0:
        bpx, bpy, bpz = px - bx, py - by, pz - bz
        d3, d4 = abx * bpx + aby * bpy + abz * bpz, acx * bpx + acy * bpy + acz * bpz
        cpx, cpy, cpz = px - cx, py - cy, pz - cz
        d5, d6 = abx * cpx + aby * cpy + abz * cpz, acx * cpx + acy * cpy + acz * cpz
        vc, vb, va = d1 * d4 - d3 * d2, d5 * d2 - d1 * d6, d3 * d6 - d5 * d4
        if d3 >= 0 and d4 <= d3:
            v = 1.0
        elif vc <= 0 and d1 >= 0 and d3 <= 0:
            v = d1 / (d1 - d3)
        elif d6 >= 0 and d5 <= d6:
            w = 1.0
        elif vb <= 0 and d2 >= 0 and d6 <= 0:
            w = d2 / (d2 - d6)
        elif va <= 0 and d4 - d3 >= 0 and d5 - d6 >= 0:
            w = (d4 - d3) / ((d4 - d3) + (d5 - d6))
            v = 1.0 - w
        else:
            s = va + vb + vc
            if s != 0.0:
                v, w = vb / s, vc / s
    return v, w
