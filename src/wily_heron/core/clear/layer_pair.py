"""The two layers of a pair as they lie in a measured cell."""

import numpy as np

from ..clearance.cell import CellResult, Dressed
from ..clearance.pair import Pair
from ..clearance.push import Between


def between(dressed: Dressed, cell: CellResult, pair: Pair, moved: np.ndarray | None = None, inner: bool = False) -> Between:
    """Return the two layers of a pair as they lie in a measured cell, the outer one (or the `inner`) `moved` (n, 3) from there."""
    under, over = cell.points_of(pair.key.under), cell.points_of(pair.key.over)
    if moved is not None:
        under, over = (under + moved, over) if inner else (under, over + moved)
    places = pair.found.places
    shown = np.zeros(len(under), bool)
    for place in places:
        shown[place.vertices] = True
    cover, deepest = pair.cover, places[0].depth if places else 0.0
    return Between(under, dressed.faces_of(pair.key.under), over, dressed.faces_of(pair.key.over), cover.wider, shown, deepest)
