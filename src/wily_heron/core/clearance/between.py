"""The two layers of a pair as they lie in a measured cell."""

import numpy as np

from .cell import CellResult, Dressed
from .push import Between


def between(dressed: Dressed, cell: CellResult, pair: int) -> Between:
    """Return the two layers of a pair, counted from the skin out, as they lie in a measured cell."""
    under = cell.body_points if pair == 0 else cell.layers[pair - 1].points
    faces = dressed.wearer.body.triangles if pair == 0 else dressed.pieces[pair - 1].mesh.triangles
    over = cell.layers[pair]
    deepest = over.found.places[0].depth if over.found.places else 0.0
    shown = np.zeros(len(under), bool)
    for place in over.found.places:
        shown[place.vertices] = True
    cover = dressed.covers[pair]
    return Between(under, faces, over.points, dressed.pieces[pair].mesh.triangles, cover.wider or cover, shown, deepest)
