"""What is smaller than the cloth's faces, as a fingertip is, comes through between their corners: their centres are kept out too."""

import numpy as np
from numba import njit, prange

from ...space.nearest_kernels import closest
from ...space.triangle_kernels import nearest_weights
from .near_kernels import along_surface

_NEAR, _TIGHT, _NEARER, _OUT = 0.01, 0.014, 0.9, 0.0005
"""Metres: faces with a corner so little off the body are looked at; a centre so far from what lies along the surface from there may lie in
something else, if that is nearer than the third as a share; so far out are they brought."""


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def _short(x, face, q, normals, t, way):
    # how far the face's centre has to go to be out of triangle t of the surface, and which `way` (3,); nothing where it is out, or where
    # the triangle lies rather beside it than over it
    p, off = np.empty(3), np.empty(3)
    for k in range(3):
        p[k] = (x[face[0], k] + x[face[1], k] + x[face[2], k]) / 3.0
    a, b, c = t[0], t[1], t[2]
    u, v = nearest_weights(p[0], p[1], p[2], q[a, 0], q[a, 1], q[a, 2], q[b, 0], q[b, 1], q[b, 2], q[c, 0], q[c, 1], q[c, 2])
    gap, size, square = 0.0, 0.0, 0.0
    for k in range(3):
        way[k] = (1.0 - u - v) * normals[a, k] + u * normals[b, k] + v * normals[c, k]
        size += way[k] * way[k]
        off[k] = p[k] - (1.0 - u - v) * q[a, k] - u * q[b, k] - v * q[c, k]
        square += off[k] * off[k]
        gap += way[k] * off[k]
    size = 1.0 / max(np.sqrt(size), 1e-12)
    for k in range(3):
        way[k] *= size
    gap *= size
    return _OUT - gap if gap < 0.0 and gap * gap > 0.5 * square else 0.0


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def _find_range(x, faces, q, normals, triangles, across, near, idle, tree, inside):
    # the triangle that each face's centre lies behind, -1 for none
    order, kids, boxes, leaves = tree
    which, known, middle, count = np.empty(len(faces), np.int64), np.empty(len(faces), np.int64), np.empty((len(faces), 3)), 0
    for f in range(len(faces)):
        inside[f] = -1
        least = _NEAR
        for c in range(3):
            i = faces[f, c]
            if near[i] >= 0 and idle[i] < least:
                known[count], which[count], least = near[i], f, idle[i]
        if least < _NEAR:
            for k in range(3):
                middle[count, k] = (x[faces[f, 0], k] + x[faces[f, 1], k] + x[faces[f, 2], k]) / 3.0
            count += 1
    far = np.empty(count)
    at = along_surface(middle, q, triangles, across, known, np.arange(count), far)
    way, doubtful = np.empty(3), far > _TIGHT
    for k in range(count):  # inside, the way along the surface may end anywhere
        doubtful[k] = doubtful[k] or _short(x, faces[which[k]], q, normals, triangles[at[k]], way) > 0.0
    rows = np.flatnonzero(doubtful)
    hit, where, gap = np.empty(len(rows), np.int64), np.empty((len(rows), 3)), np.empty(len(rows))
    closest(middle[rows], middle[rows], -2.0, _NEARER * far[rows], 1.0, order, kids, boxes, leaves, hit, where, gap)
    for r in range(len(rows)):
        k = rows[r]
        t = hit[r] if hit[r] >= 0 else at[k]
        if _short(x, faces[which[k]], q, normals, triangles[t], way) > 0.0:
            inside[which[k]] = t


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def centres_out(x, w, faces, q, normals, triangles, across, near, idle, tree):
    """Move the corners of the `faces` (f, 3) whose centres lie in the surface q (k, 3), `triangles` (m, 3), along its `normals` (k, 3) by
    so much that they do not. `near` and `idle` (n,) are the triangle each vertex of x (n, 4) is near to, -1 for none, and how far off; the
    `tree` fits q. Vertices of no mobility `w` (n,) stay."""
    inside, half = np.empty(len(faces), np.int64), len(faces) // 2
    for part in prange(2):
        low, high = part * half, len(faces) if part else half
        _find_range(x, faces[low:high], q, normals, triangles, across, near, idle, tree, inside[low:high])
    way = np.empty(3)
    for f in np.flatnonzero(inside >= 0):
        far = _short(x, faces[f], q, normals, triangles[inside[f]], way)
        for c in range(3):
            i = faces[f, c]
            if w[i] > 0.0 and far > 0.0:
                for k in range(3):
                    x[i, k] += far * way[k]
