"""What belongs under what, by the rest shapes of the two layers: judged once, since a corrective leaves them as they are."""

import hashlib
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ...memo import Memo
from .cover import Cover, border_room, cover, within_reach

_KNOWN: Memo[Cover] = Memo("covers", 256 * 2**20)
"""Room for the covers of two wearers in ten pieces, of which some thirty-five pairs meet."""


@dataclass(frozen=True)
class RestLayer:
    """A layer at rest: points (n, 3) in metres and the triangles (m, 3) of it that count."""

    points: np.ndarray
    triangles: np.ndarray

    @cached_property
    def digest(self) -> bytes:
        """A digest of both arrays."""
        hasher = hashlib.blake2b(digest_size=20)
        for array in (self.points, self.triangles):
            hasher.update(f"{array.shape}{array.dtype}".encode())
            hasher.update(np.ascontiguousarray(array).data)
        return hasher.digest()

    @cached_property
    def room(self) -> np.ndarray:
        """How far each vertex (n,) lies from the layer's open border, less the margin, in metres."""
        return border_room(self.points, self.triangles)


def cover_of(under: RestLayer, over: RestLayer) -> Cover | None:
    """Return `cover` of two layers, as it was found if they were met lately; None where nothing belongs under."""
    if not len(under.triangles) or not len(over.triangles) or not within_reach(under.points, over.points).any():
        return None
    made = _KNOWN.of(under.digest + over.digest, lambda: cover(under.points, under.triangles, over.points, over.triangles, over.room))
    return None if made.empty else made
