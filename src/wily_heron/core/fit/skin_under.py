"""A wearer's skin as what pieces rest on, kept for the wearers met last."""

from ..figure.base.body import Wearer
from ..memo import Memo, Same
from ..space.under import Under

_UNDER: Memo[Under] = Memo("skins to measure from", 96 * 2**20)


def under_of(wearer: Wearer) -> Under:
    """Return the wearer's skin ready to be measured from; the last few are kept."""
    return _UNDER.of((Same(wearer.body), wearer.shape.tobytes()), lambda: Under.of(wearer.points, wearer.body.triangles))
