"""One point where a file holds several: corners that share a place are joined."""

import numpy as np


def welded(points: np.ndarray, triangles: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return `(points, triangles)` with points in exactly the same place joined, in the order they first appear."""
    flat = np.ascontiguousarray(points + 0.0, np.float32)  # -0 and 0 are one place
    _, first, onto = np.unique(flat.view([("", np.float32)] * 3).ravel(), return_index=True, return_inverse=True)
    order = np.argsort(first, kind="stable")
    rank = np.empty(len(order), np.int64)
    rank[order] = np.arange(len(order))
    return flat[first[order]], rank[onto.ravel()][triangles].astype(np.int32)


def fans(corners: np.ndarray, sizes: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return `(m, 3)` positions in `corners` of the triangle fans of polygons with `sizes` (p,), and `(m,)` their polygon."""
    start = np.cumsum(sizes) - sizes
    count = sizes - 2
    polygon = np.repeat(np.arange(len(sizes)), count)
    step = np.arange(len(polygon)) - np.repeat(np.cumsum(count) - count, count)
    first = start[polygon]
    return corners[np.stack([first, first + step + 1, first + step + 2], axis=1)], polygon.astype(np.int32)
