"""What belongs under what, by the rest shapes of the two layers: judged once, since a corrective leaves them as they are."""

from ...memo import Memo
from .cover import Cover, cover, within_reach
from .rest_layer import RestLayer

_KNOWN: Memo[Cover] = Memo("covers", 256 * 2**20)
"""Room for the covers of two wearers in ten pieces, of which some thirty-five pairs meet."""


def cover_of(under: RestLayer, over: RestLayer) -> Cover | None:
    """Return `cover` of two layers, as it was found if they were met lately; None where nothing belongs under."""
    if not len(under.triangles) or not len(over.triangles) or not within_reach(under.points, over.points).any():
        return None
    made = _KNOWN.of(under.digest + over.digest, lambda: cover(under, over))
    return None if made.empty else made
