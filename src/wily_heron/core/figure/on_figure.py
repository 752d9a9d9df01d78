"""A tree over our figure wherever its vertices are."""


import numpy as np

from ..memo import memoised
from ..space.tree import TriangleTree
from .figure import figure
from .kept import FIGURE


def figure_tree(points: np.ndarray) -> TriangleTree:
    """Return a tree over the level-1 figure with its vertices at `points` (b, 3); its boxes are built once."""
    return _built().again(points)


@memoised(FIGURE)
def _built() -> TriangleTree:
    return TriangleTree(figure(1).base, figure(1).triangles)
