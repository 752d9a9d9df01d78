"""The layers a piece is worn between."""

from dataclasses import dataclass

from ..figure.body import Wearer
from ..piece.state import Piece
from .cell import Dressed
from .recall import Recall

OWN = "piece"
"""The name of the piece in question among its layers."""


@dataclass(frozen=True)
class Layers:
    """The pieces under a piece and those over it, each from the innermost out; `recall`, one a pair from the skin out, remembers between
    measurements of one and the same cell. What is under it matters, unless it gives way afterwards; then it may be `seen_through` even now.
    What is over it matters, unless that is eased out afterwards; it hides what it hides.
    """

    under: tuple[Piece, ...] = ()
    over: tuple[Piece, ...] = ()
    recall: tuple[Recall, ...] = ()
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
    def pairs(self) -> range:
        """The pairs of layers that the piece has a part in, counted from the skin out."""
        return range(self.place + (0 if self.under_matters else 1), self.place + (2 if self.over_matters else 1))

    def own(self, figures: dict) -> dict:
        """Return the figures of a cell that the piece has a part in: over what is under it, and under what is over it."""
        pairs = figures["pairs"][self.pairs.start : self.pairs.stop]
        return {"clearance_mm": min(p["clearance_mm"] for p in pairs), "area_cm2": round(sum(p["area_cm2"] for p in pairs), 3),
                "places": sum(len(p["places"]) for p in pairs), "pairs": pairs}


ALONE = Layers()
