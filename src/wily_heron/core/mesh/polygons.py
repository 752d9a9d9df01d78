"""From triangles back to the polygons they were cut from."""

import numpy as np

from .mesh import Mesh


def polygon_corners(mesh: Mesh) -> tuple[np.ndarray, np.ndarray]:
    """Return `(c,)` places in `triangles.ravel()` of all polygons' corners in turn, and the polygons' sizes `(p,)`.

    Triangles of one source polygon that still form its fan make one polygon again, also when they were turned over; others stay
    triangles. Polygons come in the order of their first triangle.
    """
    t, polygon = mesh.triangles, mesh.polygon
    order = np.argsort(polygon, kind="stable")
    p = polygon[order]
    same = np.zeros(len(order), bool)
    same[1:] = (p[1:] == p[:-1]) & (t[order[1:], 0] == t[order[:-1], 0])
    onward, back = np.zeros_like(same), np.zeros_like(same)
    onward[1:] = same[1:] & (t[order[1:], 1] == t[order[:-1], 2])
    back[1:] = same[1:] & (t[order[1:], 2] == t[order[:-1], 1]) & ~onward[1:]
    mixed = np.zeros_like(same)
    mixed[1:] = (onward[1:] & back[:-1]) | (back[1:] & onward[:-1])  # a fan runs one way
    joined = (onward | back) & ~mixed
    start = np.flatnonzero(~joined)
    count = np.diff(np.append(start, len(order)))
    fan = np.repeat(np.arange(len(start)), count)
    step = np.arange(len(order)) - start[fan]
    backward = np.zeros(len(start), bool)
    backward[fan[back & joined]] = True
    last = step == count[fan] - 1
    at = 3 * order
    pieces = [  # (fan, place within it, corner)
        (np.arange(len(start)), np.zeros(len(start), np.int64), at[start]),
        (fan, np.where(backward[fan], count[fan] + 1 - step, step + 1), at + np.where(backward[fan], 2, 1) * 1),
        (fan[last], np.where(backward[fan[last]], 1, count[fan[last]] + 1), at[last] + np.where(backward[fan[last]], 1, 2)),
    ]
    which, place, corner = (np.concatenate([piece[k] for piece in pieces]) for k in range(3))
    return corner[np.lexsort((place, which))], count + 2
