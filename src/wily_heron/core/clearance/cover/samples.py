"""Points inside triangles at which surfaces are asked what they show."""

import numpy as np
from numba import njit

SPLIT = np.array([[4, 1, 1], [1, 4, 1], [1, 1, 4], [2, 2, 2], [3, 3, 0], [0, 3, 3], [3, 0, 3]]) / 6.0
"""Seven points of a triangle, each standing for a seventh of it."""


def _middles(times: int) -> np.ndarray:
    """Return the middles (s, 3) of the triangles that halving one so many `times` makes."""
    n = 2**times
    up = [(3 * i + 1, 3 * j + 1) for i in range(n) for j in range(n - i)]
    down = [(3 * i + 2, 3 * j + 2) for i in range(n - 1) for j in range(n - 1 - i)]
    return np.array([(i, j, 3 * n - i - j) for i, j in up + down]) / (3.0 * n)


FINE, FINEST = _middles(2), _middles(3)
"""Sixteen points, and sixty-four."""


def inside(corner: np.ndarray, where: np.ndarray = SPLIT) -> np.ndarray:
    """Return `(s t, 3)` values at the places `where` (s, 3) of triangles from those at their corners (t, 3, 3).

    >>> inside(np.array([[[0.0, 0, 0], [3, 0, 0], [0, 3, 0]]]), np.array([[1, 1, 1]]) / 3)
    array([[1., 1., 0.]])
    """
    return np.matmul(where, corner).reshape(-1, 3)


def on_faces(points: np.ndarray, faces: np.ndarray, where: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return `(places, facing)` (s t, 3): the places `where` (s, 3) of faces (t, 3) on points (n, 3), and their faces' unit normals.

    >>> corners = np.array([[0.0, 0, 0], [3, 0, 0], [0, 3, 0]])
    >>> places, facing = on_faces(corners, np.array([[0, 1, 2]]), np.array([[1, 1, 1]]) / 3)
    >>> places, facing
    (array([[1., 1., 0.]]), array([[0., 0., 1.]]))
    """
    places, facing = np.empty((len(where) * len(faces), 3)), np.empty((len(where) * len(faces), 3))
    _on_faces(np.ascontiguousarray(points, np.float64), faces, where, places, facing)
    return places, facing


@njit(cache=True, nogil=True)
def _on_faces(points, faces, where, places, facing):
    q, count = 0, len(where)
    for t in range(len(faces)):
        a, b, c = points[faces[t, 0]], points[faces[t, 1]], points[faces[t, 2]]
        ux, uy, uz = b[0] - a[0], b[1] - a[1], b[2] - a[2]
        vx, vy, vz = c[0] - a[0], c[1] - a[1], c[2] - a[2]
        nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        size = max(np.sqrt(nx * nx + ny * ny + nz * nz), 1e-12)
        for s in range(count):
            for k in range(3):
                places[q, k] = where[s, 0] * a[k] + where[s, 1] * b[k] + where[s, 2] * c[k]
            facing[q, 0], facing[q, 1], facing[q, 2] = nx / size, ny / size, nz / size
            q += 1


@njit(cache=True, nogil=True)
def some_of_each(points, of, faces, each):
    """Return the first `each` of `points` (q,), in their order, of each of so many `faces` they are `of` (p,), and as many spread over the
    rest: one of each face, then another."""
    count, met, chosen, turn = np.zeros(faces, np.int64), np.zeros(faces, np.int64), np.zeros(faces, np.int64), np.full(len(points), -1)
    for q in points:
        count[of[q]] += 1
    for i, q in enumerate(points):
        face = of[q]
        take = met[face] < each
        for k in range(1, each + 1):
            take = take or met[face] == (count[face] - 1) * k // each
        if take:
            turn[i] = chosen[face]
            chosen[face] += 1
        met[face] += 1
    return points[np.argsort(turn, kind="mergesort")[np.count_nonzero(turn < 0):]]


def unit(vectors: np.ndarray) -> np.ndarray:
    """Return vectors (n, 3) made unit length; none stay none.

    >>> unit(np.array([[3.0, 0, 4], [0, 0, 0]]))
    array([[0.6, 0. , 0.8],
           [0. , 0. , 0. ]])
    """
    return vectors / np.maximum(np.linalg.norm(vectors, axis=1, keepdims=True), 1e-12)
