"""Distance to the body: a small interpreter over primitives. All lengths in metres; x is folded to |x|."""

import numpy as np
from numba import njit

LOFT, CONE, ELLIPSOID, BUMP = 0, 1, 2, 3


@njit(cache=True)
def _smooth_min(a, b, k):
    h = k - abs(a - b)
    low = a if a < b else b
    if h <= 0.0:
        return low
    h = h / k
    return low - h * h * h * k / 6.0


@njit(cache=True)
def _loft(x, y, z, frame, table):
    px, py, pz = x - frame[0], y - frame[1], z - frame[2]
    u = px * frame[3] + py * frame[4] + pz * frame[5]
    s = px * frame[6] + py * frame[7] + pz * frame[8]
    f = px * frame[9] + py * frame[10] + pz * frame[11]
    length = frame[12]
    n = table.shape[0]
    over = 0.0
    w = u
    if w < 0.0:
        over = -w
        w = 0.0
    elif w > length:
        over = w - length
        w = length
    g = w / length * (n - 1)
    i = int(g)
    if i > n - 2:
        i = n - 2
    g -= i
    cs = table[i, 0] * (1 - g) + table[i + 1, 0] * g
    cf = table[i, 1] * (1 - g) + table[i + 1, 1] * g
    ds, df = s - cs, f - cf
    k = 2 if ds < 0 else 3
    ws = table[i, k] * (1 - g) + table[i + 1, k] * g
    k = 4 if df >= 0 else 5
    wf = table[i, k] * (1 - g) + table[i + 1, k] * g
    p = table[i, 6] * (1 - g) + table[i + 1, 6] * g
    xs, xf = abs(ds) / ws, abs(df) / wf
    q = (xs**p + xf**p) ** (1.0 / p)
    if q < 1e-3:
        d = -min(ws, wf)
    else:
        # first-order distance to the section's outline: (q - 1) / |grad q|
        gs = (xs / q) ** (p - 1) / ws
        gf = (xf / q) ** (p - 1) / wf
        d = (q - 1.0) / np.sqrt(gs * gs + gf * gf)
    if over > 0.0:
        inside = d if d > 0.0 else 0.0
        return np.sqrt(inside * inside + over * over)
    return d


@njit(cache=True)
def _cone(x, y, z, c):
    ax, ay, az = c[0], c[1], c[2]
    bx, by, bz = c[3] - ax, c[4] - ay, c[5] - az
    px, py, pz = x - ax, y - ay, z - az
    t = (px * bx + py * by + pz * bz) / (bx * bx + by * by + bz * bz)
    t = 0.0 if t < 0.0 else (1.0 if t > 1.0 else t)
    dx, dy, dz = px - t * bx, py - t * by, pz - t * bz
    return np.sqrt(dx * dx + dy * dy + dz * dz) - (c[6] * (1 - t) + c[7] * t)


@njit(cache=True)
def _ellipsoid(x, y, z, c):
    px, py, pz = x - c[0], y - c[1], z - c[2]
    a = (px * c[6] + py * c[7] + pz * c[8]) / c[3]
    b = (px * c[9] + py * c[10] + pz * c[11]) / c[4]
    e = (px * c[12] + py * c[13] + pz * c[14]) / c[5]
    k0 = np.sqrt(a * a + b * b + e * e)
    if k0 < 1e-6:
        return -min(c[3], c[4], c[5])
    a, b, e = a / c[3], b / c[4], e / c[5]
    return k0 * (k0 - 1.0) / np.sqrt(a * a + b * b + e * e)


@njit(cache=True)
def distance(x, y, z, kinds, blends, groups, data, tables, mask):
    """Signed distance (metres, first order) at one point to the primitives whose group bit is in `mask`."""
    x = abs(x)
    d = 1e3
    lift = 0.0
    for i in range(kinds.shape[0]):
        if (groups[i] & mask) == 0:
            continue
        kind = kinds[i]
        c = data[i]
        if kind == BUMP:
            px, py, pz = x - c[0], y - c[1], z - c[2]
            r = (px / c[3]) ** 2 + (py / c[4]) ** 2 + (pz / c[5]) ** 2
            if r < 12.0:
                lift += c[6] * np.exp(-0.5 * r)
            continue
        if kind == LOFT:
            e = _loft(x, y, z, c, tables[int(c[13])])
        elif kind == CONE:
            e = _cone(x, y, z, c)
        else:
            e = _ellipsoid(x, y, z, c)
        d = e if d > 1e2 else _smooth_min(d, e, blends[i])
    return d - lift


@njit(cache=True)
def _gradient(x, y, z, kinds, blends, groups, data, tables, mask, out):
    h = 4e-4
    out[0] = (distance(x + h, y, z, kinds, blends, groups, data, tables, mask)
              - distance(x - h, y, z, kinds, blends, groups, data, tables, mask)) / (2 * h)
    out[1] = (distance(x, y + h, z, kinds, blends, groups, data, tables, mask)
              - distance(x, y - h, z, kinds, blends, groups, data, tables, mask)) / (2 * h)
    out[2] = (distance(x, y, z + h, kinds, blends, groups, data, tables, mask)
              - distance(x, y, z - h, kinds, blends, groups, data, tables, mask)) / (2 * h)


@njit(cache=True)
def newton(points, clip, kinds, blends, groups, data, tables, masks):
    """Move `points` (n, 3) in place one clipped Newton step along the gradient towards distance 0."""
    g = np.empty(3)
    for i in range(points.shape[0]):
        x, y, z = points[i]
        mask = masks[i]
        d = distance(x, y, z, kinds, blends, groups, data, tables, mask)
        _gradient(x, y, z, kinds, blends, groups, data, tables, mask, g)
        if x == 0.0:
            g[0] = 0.0  # the midline stays on the midline
        n2 = g[0] * g[0] + g[1] * g[1] + g[2] * g[2]
        if n2 < 1e-4:
            continue
        step = d / np.sqrt(n2)
        step = min(max(step, -clip), clip) / np.sqrt(n2)
        points[i, 0] = x - step * g[0]
        points[i, 1] = y - step * g[1]
        points[i, 2] = z - step * g[2]


@njit(cache=True)
def march(origins, directions, far, kinds, blends, groups, data, tables, masks, out):
    """From `origin + far * direction` walk inwards to the surface; `out` (n,) gets the reach, or -1 where none is met."""
    for i in range(origins.shape[0]):
        t, outside = far, far
        out[i] = -1.0
        found = False
        for _ in range(200):  # walk in; the distance is first order, so a step is kept short and may still overshoot
            d = distance(origins[i, 0] + t * directions[i, 0], origins[i, 1] + t * directions[i, 1],
                         origins[i, 2] + t * directions[i, 2], kinds, blends, groups, data, tables, masks[i])
            if d < 0.0:
                found = True
                break
            outside = t
            t -= min(max(0.4 * d, 2e-4), 6e-3)
            if t < 0.0:
                break
        if not found:
            continue
        for _ in range(24):  # bisect between the last point outside and the first inside
            half = 0.5 * (t + outside)
            d = distance(origins[i, 0] + half * directions[i, 0], origins[i, 1] + half * directions[i, 1],
                         origins[i, 2] + half * directions[i, 2], kinds, blends, groups, data, tables, masks[i])
            if d < 0.0:
                t = half
            else:
                outside = half
        out[i] = t
