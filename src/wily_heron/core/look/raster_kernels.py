"""A small z-buffer: triangles to depth, face and barycentric images, and their shading. Pixel centres, y down."""

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def project(points, ways, middle, screen):
    """Fill `screen` (n, 3) with points (n, 3) along the rows of `ways` (3, 3), counted from `middle` (3,)."""
    for i in range(len(points)):
        for a in range(3):
            screen[i, a] = points[i, 0] * ways[a, 0] + points[i, 1] * ways[a, 1] + points[i, 2] * ways[a, 2] + middle[a]


@njit(cache=True, nogil=True)
def rasterise(screen, triangles, tag, zbuffer, face):
    """Draw triangles (m, 3) with `screen` (n, 3), x and y in pixels and depth (smaller is nearer), into the images `zbuffer` (h, w) and
    `face` (h, w), which receives the triangle's number counted from `tag` (or stays -1)."""
    h, w = zbuffer.shape
    for t in range(triangles.shape[0]):
        a, b, c = np.uint64(triangles[t, 0]), np.uint64(triangles[t, 1]), np.uint64(triangles[t, 2])
        ax, ay, bx, by, cx, cy = screen[a, 0], screen[a, 1], screen[b, 0], screen[b, 1], screen[c, 0], screen[c, 1]
        x0, x1 = int(np.ceil(min(ax, bx, cx) - 0.5)), int(np.floor(max(ax, bx, cx) - 0.5))  # most triangles hold no pixel's centre
        y0, y1 = int(np.ceil(min(ay, by, cy) - 0.5)), int(np.floor(max(ay, by, cy) - 0.5))
        x0, y0, x1, y1 = max(x0, 0), max(y0, 0), min(x1, w - 1), min(y1, h - 1)
        area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
        if x0 > x1 or y0 > y1 or abs(area) < 1e-12:
            continue
        inverse, nearest = 1.0 / area, min(screen[a, 2], screen[b, 2], screen[c, 2])
        for y in range(y0, y1 + 1):
            for x in range(x0, x1 + 1):
                if nearest >= zbuffer[y, x]:
                    continue
                wa, wb, wc = _weights(screen, a, b, c, x, y, inverse)
                if wa >= 0.0 and wb >= 0.0 and wc >= 0.0:
                    z = wa * screen[a, 2] + wb * screen[b, 2] + wc * screen[c, 2]
                    if z < zbuffer[y, x]:
                        zbuffer[y, x], face[y, x] = z, tag + t


@njit(cache=True, nogil=True, inline="always")
def _weights(screen, a, b, c, x, y, inverse):
    # the perspective-free weights of a triangle's corners at a pixel's centre, by one over twice its area
    px, py = x + 0.5, y + 0.5
    wa = ((screen[b, 0] - px) * (screen[c, 1] - py) - (screen[b, 1] - py) * (screen[c, 0] - px)) * inverse
    wb = ((screen[c, 0] - px) * (screen[a, 1] - py) - (screen[c, 1] - py) * (screen[a, 0] - px)) * inverse
    return wa, wb, 1.0 - wa - wb


@njit(cache=True, nogil=True)
def shade(face, screen, corner, normal, colour, lights, background, fine, image):
    """Light the faces drawn and average `fine` by `fine` pixels into `image` (h, w, 3 or 4) uint8: over the `background` (3,), or with how
    much of the pixel they cover.

    `corner` (m, 3) are rows of `screen` (as in `rasterise`), `normal` and `colour` (n, 3); rows of `lights` are towards the viewer, the key
    and the fill light.
    """
    n, base, total = np.empty(3), np.empty(3), np.empty(3)
    for row in range(image.shape[0]):
        for column in range(image.shape[1]):
            total[:], drawn = 0.0, 0
            for y in range(row * fine, row * fine + fine):
                for x in range(column * fine, column * fine + fine):
                    if face[y, x] >= 0:
                        _lit(face[y, x], screen, corner, normal, colour, lights, x, y, n, base, total)
                        drawn += 1
            out, share = image[row, column], 1.0 / max(drawn, 1) if image.shape[2] == 4 else 1.0 / (fine * fine)
            for k in range(3):
                behind = 0.0 if image.shape[2] == 4 else background[k] * (1.0 - share * drawn)
                out[k] = np.uint8(255.0 * (share * total[k] + behind) + 0.5)
            if image.shape[2] == 4:
                out[3] = np.uint8(255.0 * drawn / (fine * fine) + 0.5)


@njit(cache=True, nogil=True, inline="always")
def _lit(t, screen, corner, normal, colour, lights, x, y, n, base, total):
    # add to `total` the colour of a face at a pixel's centre
    a, b, c = corner[t, 0], corner[t, 1], corner[t, 2]
    area = (screen[b, 0] - screen[a, 0]) * (screen[c, 1] - screen[a, 1]) - (screen[b, 1] - screen[a, 1]) * (screen[c, 0] - screen[a, 0])
    wa, wb, wc = _weights(screen, a, b, c, x, y, 1.0 / area)
    for k in range(3):
        n[k] = wa * normal[a, k] + wb * normal[b, k] + wc * normal[c, k]
        base[k] = wa * colour[a, k] + wb * colour[b, k] + wc * colour[c, k]
    length = max(np.sqrt(n[0] ** 2 + n[1] ** 2 + n[2] ** 2), 1e-12)
    facing = (n[0] * lights[0, 0] + n[1] * lights[0, 1] + n[2] * lights[0, 2]) / length
    sign = (-1.0 if facing < 0.0 else 1.0) / length
    key = sign * (n[0] * lights[1, 0] + n[1] * lights[1, 1] + n[2] * lights[1, 2])
    fill = sign * (n[0] * lights[2, 0] + n[1] * lights[2, 1] + n[2] * lights[2, 2])
    light = 0.42 + 0.12 * sign * n[1] + 0.66 * max(key, 0.0) + 0.16 * max(fill, 0.0)
    light *= 1.0 - 0.25 * (1.0 - abs(facing)) ** 3
    for k in range(3):
        total[k] += min(max(base[k] * light + 0.02, 0.0), 1.0)
