"""What bears a piece, and how it bends."""

import numpy as np

from ...core.bind.bend_test import Bend, bend_test
from ..wearer import wearer_as
from .standing import standing


def joints_of(piece: int) -> list[tuple[str, float]]:
    """Return every joint of the piece's wearer, and how many vertices' worth of the piece it bears."""
    stands = standing(piece)
    names = stands.wearer().skeleton.names
    bears, skin = np.zeros(len(names) + 1), stands.piece.skin
    if skin is not None:
        bears = np.bincount(np.minimum(skin.joints, len(names)).ravel(), skin.weights.ravel(), minlength=len(names) + 1)
    return [(name, float(share)) for name, share in zip(names, bears[:-1], strict=True)]


def bends_of(piece: int) -> list[Bend]:
    """Swing each joint near the piece through its range; return the worst of each swing, the worst first."""
    stands = standing(piece).bound()
    return bend_test(stands.piece, wearer_as(stands.recipe.body, stands.recipe.made_on, 1))
