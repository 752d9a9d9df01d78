"""The connected parts of a mesh."""

import numpy as np

from .island_kernels import join


def islands(triangles: np.ndarray, vertex_count: int) -> tuple[int, np.ndarray]:
    """Return `(count, label)` with `label` (n,) int32: the island of each vertex, the largest island first.

    Args:
        triangles: (m, 3) int32.
        vertex_count: How many vertices there are.

    >>> count, label = islands(np.array([[0, 1, 2], [3, 4, 5], [4, 5, 6]], np.int32), 7)
    >>> count, label.tolist()
    (2, [1, 1, 1, 0, 0, 0, 0])
    """
    root = np.arange(vertex_count)
    join(triangles, root)
    first = root == np.arange(vertex_count)
    count, label = int(first.sum()), (np.cumsum(first) - 1)[root]
    order = np.argsort(-np.bincount(label, minlength=count), kind="stable")
    rank = np.empty(count, np.int32)
    rank[order] = np.arange(count, dtype=np.int32)
    return count, rank[label]
