"""Where loose panels (a placket, a pocket) are sewn to the cloth they lie on."""

import numpy as np
from scipy.spatial import KDTree

from ..mesh.islands import islands

_SEW_REACH = 0.012
"""A panel's vertex within this many metres of other cloth is sewn to it."""
_MOSTLY = 0.6
"""A panel of which more than this lies so near is sewn all over."""


def sewn(points: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return pairs of vertices (s, 2) that stitches join: each vertex of a smaller island to the three nearest of the larger
    ones about it.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
    """
    count, label = islands(triangles, len(points))
    size = np.bincount(label, minlength=count)
    pairs = [np.zeros((0, 2), np.int64)]
    for island in np.argsort(-size)[1:]:
        mine = np.flatnonzero(label == island)
        larger = np.flatnonzero((size[label] > size[island]) | ((size[label] == size[island]) & (label < island)))
        if not len(larger):
            continue
        tree = KDTree(points[larger])
        gap, near = tree.query(points[mine], k=min(3, len(larger)), distance_upper_bound=2.5 * _SEW_REACH)
        gap, near = gap.reshape(len(mine), -1), near.reshape(len(mine), -1)
        close = gap[:, 0] < _SEW_REACH
        good = np.isfinite(gap) & (close | (close.mean() > _MOSTLY))[:, None]
        pairs.append(np.stack([np.broadcast_to(mine[:, None], gap.shape)[good], larger[near[good]]], axis=1))
    return np.concatenate(pairs)
