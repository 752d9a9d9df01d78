"""The place, fit and work steps on the wire."""

from collections.abc import Sequence
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from ....core.model.steps.alteration import Vector
from ....core.model.steps.fit import Fit
from ....core.model.steps.receive import Place
from ....core.work.adjusters import Adjuster, Opening
from ....core.work.grow import Growth
from ....studio.rail.placing import vector
from ...wire import Out


class _In(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class LandmarkOut(Out):
    """A named point of a wearer's skin (metres)."""

    name: str
    at: Vector


class PlaceAskedIn(_In):
    """How a placement is to be found; `row` is a vertex of the received piece, `landmark` where it is to lie."""

    how: Literal["propose", "drop", "snap"]
    row: int | None = None
    landmark: str = ""


class ProposedOut(Out):
    """A placement and why it is proposed."""

    step: Place
    why: str


class FitPreviewIn(_In):
    """The fit to preview."""

    step: Fit


class LoosePartOut(Out):
    """A loose part of a piece: a received row of it, its longest side and middle (metres)."""

    row: int
    vertices: int
    size: float
    material: str
    stiff: bool
    middle: Vector


class AdjusterOut(Out):
    """An adjuster: what it is called, and what pulling it either way does."""

    name: str
    label: str
    group: str
    more: str
    less: str


class OpeningOut(Out):
    """An opening of a piece: the middle of where the piece ends (metres), and the direction in which it does."""

    name: str
    label: str
    end: Vector
    way: Vector


class AdjustersNotes(Out):
    """What goes with the moves of adjusters."""

    adjusters: list[AdjusterOut]
    openings: list[OpeningOut]

    @classmethod
    def of(cls, found: tuple[Sequence[Adjuster], Sequence[Opening]]) -> "AdjustersNotes":
        """Return what adjusters and openings are called."""
        adjusters, openings = found
        return cls(adjusters=[AdjusterOut.of(a) for a in adjusters],
                   openings=[OpeningOut(name=o.name, label=o.label, end=vector(o.end), way=vector(o.way)) for o in openings])


class GrowIn(_In):
    """A piece to grow from a wearer's skin (metres)."""

    wearer: int
    name: str = Field(min_length=1, max_length=60)
    regions: list[str] = Field(min_length=1, max_length=60)
    ease: float = Field(default=0.004, ge=0.0005, le=0.05)
    hem: float = Field(default=0.015, ge=0.0, le=0.1)
    sole: float = Field(default=0.0, ge=0.0, le=0.1)
    even: float = Field(default=0.3, ge=0.0, le=1.0)

    def growth(self) -> Growth:
        """Return it as it is grown."""
        return Growth(tuple(self.regions), self.ease, self.hem, self.sole, self.even)


class OutfitFitIn(_In):
    """An outfit to fit: the body whose pieces are meant ("" or none for the house's figure), and the ease over the skin (metres)."""

    outfit: int
    body: str | None = None
    ease: float = Field(default=0.006, ge=0.0, le=0.05)
