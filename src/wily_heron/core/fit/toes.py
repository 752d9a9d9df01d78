"""Which parts of a piece lie over toes: they keep the form they came in, since no cloth is drawn in between toes."""


import numpy as np

from ..figure.figure import figure
from ..figure.kept import FIGURE
from ..figure.on_figure import figure_tree
from ..figure.regions import face_regions
from ..memo import memoised

_REACH = 0.04


def over_toes(points: np.ndarray, source: np.ndarray) -> np.ndarray:
    """Return `(n,) bool`: the points (n, 3) of a piece whose nearest skin is that of toes, on a body whose level-1 figure's vertices are
    `source` (b, 3)."""
    out = np.zeros(len(points), bool)
    toes = _toes()
    low, high = (f(source[figure(1).triangles[toes].ravel()], axis=0) for f in (np.min, np.max))
    rows = np.flatnonzero(((points > low - _REACH) & (points < high + _REACH)).all(axis=1))
    if len(rows):
        near = figure_tree(source).nearest(points[rows], limit=_REACH)
        out[rows] = (near.triangle >= 0) & toes[near.triangle]
    return out


@memoised(FIGURE)
def _toes() -> np.ndarray:
    """Which of the level-1 figure's triangles (m,) are of toes."""
    names, of = face_regions(1)
    return np.isin(of, [i for i, name in enumerate(names) if name[2:] == "toes"])
