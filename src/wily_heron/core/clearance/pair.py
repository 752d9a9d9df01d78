"""One layer over another in a cell, and the figures of a cell made of its pairs."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .cover.cover import UNDER, Cover
from .cover.key import Key
from .find.find import Found

CLEAN_AREA = 1e-5
"""A cell with at most 0.1 cm2 of visible poke-through holds."""


@dataclass(frozen=True)
class Pair:
    """What of one layer shows through another in a cell. `measured` is False where it was not asked, and is told as if it held."""

    key: Key
    cover: Cover
    found: Found
    measured: bool = True

    @property
    def clearance_mm(self) -> float:
        """The least clearance in mm, negative where something shows; 40 where nothing lies near."""
        return round(1000 * self.found.least, 2)

    @property
    def area_cm2(self) -> float:
        """What shows, in cm2."""
        return round(1e4 * self.found.area, 3)

    @property
    def shows(self) -> bool:
        """Whether anything shows at all."""
        return bool(self.found.places)

    @property
    def speaks(self) -> bool:
        """Whether the two come near one another here, so that there is a clearance to report."""
        return self.shows or self.found.least < UNDER or self.found.pinched > 0


def unmeasured(key: Key, cover: Cover, count: int) -> Pair:
    """Return a pair whose under-layer of so many vertices was not asked."""
    return Pair(key, cover, Found((), np.zeros(count), UNDER), False)


def total_area(pairs: Sequence[Pair], counts: Sequence[np.ndarray] | None = None) -> float:
    """Return what shows in all (m2), with what shows through several layers at once counted once: of each face of an under-layer the most
    that shows through any one. With `counts`, a mask (q,) a pair, only those of its points that are seen."""
    by_under: dict[int, list[tuple[np.ndarray, np.ndarray]]] = {}
    for k, pair in enumerate(pairs):
        seen, mine = pair.found.seen, slice(None) if counts is None else counts[k]
        if len(seen.area):
            by_under.setdefault(pair.key.under, []).append((seen.face[mine], seen.area[mine]))
    area = 0.0
    for shown in by_under.values():
        count = max(int(face.max(initial=-1)) for face, _ in shown) + 1
        each = [np.bincount(face, weights, count) for face, weights in shown]
        area += float(np.max(each, axis=0).sum())
    return area


def least_clearance(pairs: Sequence[Pair]) -> float:
    """Return the least clearance of pairs in mm, 40 where there is none."""
    return min((pair.clearance_mm for pair in pairs), default=1000 * UNDER)


def deepest_place(pairs: Sequence[Pair]) -> float:
    """Return the greatest depth (m) of what shows in pairs."""
    return max((place.depth for pair in pairs for place in pair.found.places), default=0.0)


