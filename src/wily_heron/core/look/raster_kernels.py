"""A small z-buffer: triangles to depth, face and barycentric images, and their shading. Pixel centres, y down."""

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
        x0, x1 = int(np.ceil(min(ax, bx, cx) - 0.5)), int(np.floor(max(ax, bx, cx) - 0.5))  # most triangles hold no pixel's centre
        y0, y1 = int(np.ceil(min(ay, by, cy) - 0.5)), int(np.floor(max(ay, by, cy) - 0.5))
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


@njit(cache=True, nogil=True)
def shade(face, bary, corner, normal, colour, lights, background, fine, image):
    """Light the faces drawn and average `fine` by `fine` pixels into `image` (h, w, 4): colour over `background` (3,), and the cover.

    `corner` (m, 3) are rows of `normal` and `colour` (n, 3); rows of `lights` are towards the viewer, the key and the fill light.
    """
    n, base = np.empty(3), np.empty(3)
    share = 1.0 / (fine * fine)
    for y in range(face.shape[0]):
        for x in range(face.shape[1]):
            out = image[y // fine, x // fine]
            t = face[y, x]
            if t < 0:
                for k in range(3):
                    out[k] += share * background[k]
                continue
            n[:] = 0.0
            base[:] = 0.0
            for c in range(3):
                row, weight = corner[t, c], bary[y, x, c]
                for k in range(3):
                    n[k] += weight * normal[row, k]
                    base[k] += weight * colour[row, k]
            length = max(np.sqrt(n[0] ** 2 + n[1] ** 2 + n[2] ** 2), 1e-12)
            facing = (n[0] * lights[0, 0] + n[1] * lights[0, 1] + n[2] * lights[0, 2]) / length
            sign = (-1.0 if facing < 0.0 else 1.0) / length
            key = sign * (n[0] * lights[1, 0] + n[1] * lights[1, 1] + n[2] * lights[1, 2])
            fill = sign * (n[0] * lights[2, 0] + n[1] * lights[2, 1] + n[2] * lights[2, 2])
            light = 0.42 + 0.12 * sign * n[1] + 0.66 * max(key, 0.0) + 0.16 * max(fill, 0.0)
            light *= 1.0 - 0.25 * (1.0 - abs(facing)) ** 3
            for k in range(3):
                out[k] += share * min(max(base[k] * light + 0.02, 0.0), 1.0)
            out[3] += share
