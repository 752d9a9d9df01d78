"""A small z-buffer: triangles to depth, face and barycentric images. Pixel centres, y down."""

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def rasterise(xy, depth, triangles, tags, zbuffer, face, bary):
    """Draw triangles (m, 3) with screen `xy` (n, 2) in pixels and `depth` (n,) (smaller is nearer) into the images.

    `face` (h, w) receives `tags[i]`-offset triangle indices (or stays -1), `bary` (h, w, 3) the perspective-free weights.
    """
    h, w = zbuffer.shape
    for t in range(triangles.shape[0]):
        a, b, c = triangles[t]
        ax, ay, bx, by, cx, cy = xy[a, 0], xy[a, 1], xy[b, 0], xy[b, 1], xy[c, 0], xy[c, 1]
        area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
        if abs(area) < 1e-12:
            continue
        x0, x1 = int(np.floor(min(ax, bx, cx))), int(np.ceil(max(ax, bx, cx)))
        y0, y1 = int(np.floor(min(ay, by, cy))), int(np.ceil(max(ay, by, cy)))
        x0, y0 = max(x0, 0), max(y0, 0)
        x1, y1 = min(x1, w - 1), min(y1, h - 1)
        for y in range(y0, y1 + 1):
            py = y + 0.5
            for x in range(x0, x1 + 1):
                px = x + 0.5
                wa = ((bx - px) * (cy - py) - (by - py) * (cx - px)) / area
                wb = ((cx - px) * (ay - py) - (cy - py) * (ax - px)) / area
                wc = 1.0 - wa - wb
                if wa < 0.0 or wb < 0.0 or wc < 0.0:
                    continue
                z = wa * depth[a] + wb * depth[b] + wc * depth[c]
                if z < zbuffer[y, x]:
                    zbuffer[y, x] = z
                    face[y, x] = tags[t]
                    bary[y, x, 0] = wa
                    bary[y, x, 1] = wb
                    bary[y, x, 2] = wc
