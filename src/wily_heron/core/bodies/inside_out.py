"""The order in which the parts of a dressed body are worn, by how they lie over one another."""

from collections.abc import Mapping
from itertools import combinations, permutations

import numpy as np

from ..space.tree import TriangleTree

_OVER = 0.03
"""Parts that lie nearer to one another than this (metres) lie over one another there: layers of cloth, with the air between them."""
_SHARE = 0.02
"""A part of which less lies over another is beside it: their own heights over the skin say more."""


def inside_out(points: np.ndarray, parts: Mapping[int, np.ndarray], skin: TriangleTree) -> list[int]:
    """Return the parts, the one nearest to the skin first: where two lie over one another, the outer one comes later.

    Args:
        points: (n, 3) float, metres.
        parts: (m, 3) int triangles of each part, by its number.
        skin: The body's own skin.

    A part comes after those it lies over, and among what is then free the one that lies lowest comes first. Where parts lie over one
    another in a circle, that order alone counts.
    """
    rows = {k: np.unique(triangles) for k, triangles in parts.items()}
    lift = {k: skin.signed_distance(points[rows[k]])[0] for k in parts}
    low = {k: float(np.median(lift[k])) for k in parts}
    trees = {k: TriangleTree(points, triangles) for k, triangles in parts.items()}
    under: dict[int, set[int]] = {k: set() for k in parts}
    for a, b in permutations(parts, 2):
        near = trees[b].nearest(points[rows[a]])
        there = near.distance < _OVER
        if there.mean() < _SHARE:
            continue
        above = lift[a][there] - skin.signed_distance(near.point[there])[0]
        if np.median(above) > 0:
            under[a].add(b)
    for a, b in combinations(sorted(parts, key=low.__getitem__), 2):
        if b in under[a] and a in under[b]:  # each seems the outer one: the higher is
            under[a].discard(b)
    out: list[int] = []
    while len(out) < len(parts):
        left = [k for k in parts if k not in out]
        free = [k for k in left if not under[k] - set(out)] or left
        out.append(min(free, key=low.__getitem__))
    return out
