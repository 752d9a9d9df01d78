"""The layers a piece is worn between."""

from collections.abc import Iterable
from dataclasses import dataclass

from ..clearance.cell import CellResult, Dressed
from ..clearance.cover.key import Key
from ..clearance.figures import OwnFigures, pair_figures
from ..clearance.find.incremental import Recalls
from ..clearance.pair import Pair, least_clearance
from ..figure.base.body import Wearer
from ..model.state import Piece

OWN = "piece"
"""The name of the piece in question among its layers."""


@dataclass(frozen=True)
class Layers:
    """The pieces under a piece and those over it on the rail, each from the innermost out; `recall` remembers between
    measurements of one and the same cell. What is under it matters, unless it gives way afterwards; then it may be `seen_through` even now.
    What is over it matters, unless that is eased out afterwards; it hides what it hides.
    """

    under: tuple[Piece, ...] = ()
    over: tuple[Piece, ...] = ()
    recall: Recalls | None = None
    under_matters: bool = True
    seen_through: bool = True
    over_matters: bool = True

    @property
    def place(self) -> int:
        """Where the piece stands from the skin out."""
        return len(self.under)

    def dress(self, wearer: Wearer, piece: Piece) -> Dressed:
        """Return the wearer dressed in the piece between its layers."""
        named = {f"under {i}": p for i, p in enumerate(self.under)} | {OWN: piece}
        return Dressed(wearer, named | {f"over {i}": p for i, p in enumerate(self.over)})

    @property
    def pairs(self) -> "_Pairs":
        """The pairs of layers that the piece has a part in: over whatever lies under it anywhere, and under whatever lies over it."""
        return _Pairs(self.place, self.under_matters, self.over_matters)

    def own(self, cell: CellResult, dressed: Dressed) -> OwnFigures:
        """Return the figures of a cell that the piece has a part in: over what is under it, and under what is over it."""
        pairs = self.own_pairs(cell)
        speaking = tuple(pair_figures(p, dressed.names, dressed.pieces, dressed.wearer) for p in pairs if p.speaks)
        return OwnFigures(clearance_mm=least_clearance(pairs), area_cm2=area_of(pairs), places=sum(len(p.found.places) for p in pairs),
                          pairs=speaking)

    def own_pairs(self, cell: CellResult) -> list[Pair]:
        """Return the pairs of a cell that the piece has a part in."""
        return [pair for pair in cell.pairs if pair.key in self.pairs]


@dataclass(frozen=True)
class _Pairs:
    """The pairs that the piece at `place` has a part in, as the outer layer or as the inner one."""

    place: int
    as_outer: bool
    as_inner: bool

    def __contains__(self, key: object) -> bool:
        return isinstance(key, Key) and ((self.as_outer and key.over == self.place) or (self.as_inner and key.under == self.place))


def area_of(pairs: Iterable[Pair]) -> float:
    """Return what pairs show (cm2), each for itself: what shows through two layers counts for both."""
    return round(sum(pair.area_cm2 for pair in pairs), 3)


ALONE = Layers()
