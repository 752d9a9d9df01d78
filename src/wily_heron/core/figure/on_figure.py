"""A tree over our figure wherever its vertices are."""

from functools import lru_cache

import numpy as np

from ..space.tree import TriangleTree
from .figure import figure


def figure_tree(points: np.ndarray) -> TriangleTree:
    """Return a tree over the level-1 figure with its vertices at `points` (b, 3); its boxes are built once."""
    return _built().again(points)


@lru_cache(maxsize=1)
def _built() -> TriangleTree:
    return TriangleTree(figure(1).base, figure(1).triangles)
