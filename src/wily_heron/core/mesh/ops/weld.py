"""One point where a file holds several: corners that share a place are joined."""

import numpy as np


def welded(points: np.ndarray, triangles: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return `(points, triangles)` with points in exactly the same place joined, in the order they first appear.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.

    >>> points, triangles = welded(np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [1, 0, 0]], float), np.array([[0, 1, 2], [0, 2, 3]]))
    >>> len(points), triangles.tolist()
    (3, [[0, 1, 2], [0, 2, 1]])
    """
    first, onto = joined(points)
    flat = np.ascontiguousarray(points + 0.0, np.float32)
    return flat[first], onto[triangles].astype(np.int32)


def joined(points: np.ndarray, carried: np.ndarray | None = None) -> tuple[np.ndarray, np.ndarray]:
    """Return the row each joined point is taken from `(k,)` and the joined point of each row `(n,)`.

    Rows are joined where `points` (n, 3) are the same and so is all they carry (`carried` (n, c): morphs, weights): lips that touch
    are two.

    >>> rows, of = joined(np.array([[0.0, 0, 0], [1, 0, 0], [0, 0, 0]]))
    >>> len(rows), bool(of[0] == of[2])
    (2, True)
    """
    flat = np.ascontiguousarray(points + 0.0, np.float32)  # -0 and 0 are one place
    if carried is not None and carried.shape[1]:
        mix = np.random.default_rng(7).normal(size=(carried.shape[1], 2))  # rows that differ hardly ever mix to the same
        flat = np.concatenate([flat, np.round(carried.astype(np.float64) @ mix, 4).astype(np.float32) + 0.0], axis=1)
        flat = np.ascontiguousarray(flat)
    _, first, onto = np.unique(flat.view([("", np.float32)] * flat.shape[1]).ravel(), return_index=True, return_inverse=True)
    order = np.argsort(first, kind="stable")
    rank = np.empty(len(order), np.int64)
    rank[order] = np.arange(len(order))
    return first[order], rank[onto.ravel()]


def fans(corners: np.ndarray, sizes: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the triangle fans `(m, 3)` of polygons whose `corners` (c,) come in turn, `sizes` (p,) of each, and `(m,)` their polygon.

    >>> triangles, polygon = fans(np.array([7, 8, 9, 10]), np.array([4]))
    >>> triangles.tolist(), polygon.tolist()
    ([[7, 8, 9], [7, 9, 10]], [0, 0])
    """
    start = np.cumsum(sizes) - sizes
    count = sizes - 2
    polygon = np.repeat(np.arange(len(sizes)), count)
    step = np.arange(len(polygon)) - np.repeat(np.cumsum(count) - count, count)
    first = start[polygon]
    return corners[np.stack([first, first + step + 1, first + step + 2], axis=1)], polygon.astype(np.int32)
