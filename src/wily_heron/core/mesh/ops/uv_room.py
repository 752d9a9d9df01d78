"""How the faces of a mesh share the room of their texture."""

import numpy as np
from numba import njit

_SIDE = 2048
_MOST = 60 * _SIDE**2
"""So many grid points are asked at most, of all faces together: a texture that is used once takes about two a point, a second in all.
Where coordinates jump from face to face, each face spans much of the grid, and a coarser one tells as much."""


@njit(cache=True, nogil=True)
def _cover(uv, count, mark, second):
    side = count.shape[0]
    for t in range(uv.shape[0]):
        x0, y0, x1, y1, x2, y2 = uv[t, 0, 0], uv[t, 0, 1], uv[t, 1, 0], uv[t, 1, 1], uv[t, 2, 0], uv[t, 2, 1]
        area = (x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0)
        if abs(area) < 1e-12:
            continue
        low_x, high_x = int(np.ceil(min(x0, x1, x2) - 0.5)), int(np.floor(max(x0, x1, x2) - 0.5))
        low_y, high_y = int(np.ceil(min(y0, y1, y2) - 0.5)), int(np.floor(max(y0, y1, y2) - 0.5))
        for y in range(max(low_y, 0), min(high_y, side - 1) + 1):
            for x in range(max(low_x, 0), min(high_x, side - 1) + 1):
                px, py = x + 0.5, y + 0.5
                a = ((x1 - px) * (y2 - py) - (x2 - px) * (y1 - py)) / area
                b = ((x2 - px) * (y0 - py) - (x0 - px) * (y2 - py)) / area
                if a > 1e-4 and b > 1e-4 and a + b < 1.0 - 1e-4:
                    if second:
                        if count[y, x] > 1:
                            mark[t] = True
                    elif count[y, x] < 2:
                        count[y, x] += 1


def overlapping(corner_uv: np.ndarray) -> np.ndarray:
    """Return `(m,) bool`: the faces that share texture room with another, on a grid of 2048 points a side over all the room used, or a
    coarser one where faces span so much of it that this would take too long.

    Faces smaller than a grid point may be missed.

    >>> one = np.array([[0.0, 0.0], [0.4, 0.0], [0.0, 0.4]])
    >>> overlapping(np.stack([one, one + 0.05, one + 0.5])).tolist()
    [True, True, False]
    """
    low, high = corner_uv.min(axis=(0, 1)), corner_uv.max(axis=(0, 1))
    placed = (corner_uv.astype(np.float64) - low) / np.maximum((high - low).max(), 1e-9)
    spans, side = np.ptp(placed, axis=1), _SIDE
    while side > 1 and np.prod(side * spans + 1.0, axis=1).sum() > _MOST:
        side //= 2
    count, mark = np.zeros((side, side), np.uint8), np.zeros(len(corner_uv), bool)
    _cover(side * placed, count, mark, False)
    _cover(side * placed, count, mark, True)
    return mark
