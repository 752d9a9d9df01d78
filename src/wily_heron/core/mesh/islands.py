"""The connected parts of a mesh."""

import numpy as np
from scipy.sparse.csgraph import connected_components

from .edges import adjacency


def islands(triangles: np.ndarray, vertex_count: int) -> tuple[int, np.ndarray]:
    """Return `(count, label)` with `label` (n,) int32: the island of each vertex, the largest island first."""
    count, label = connected_components(adjacency(triangles, vertex_count), directed=False)
    order = np.argsort(-np.bincount(label, minlength=count), kind="stable")
    rank = np.empty(count, np.int32)
    rank[order] = np.arange(count, dtype=np.int32)
    return count, rank[label]
