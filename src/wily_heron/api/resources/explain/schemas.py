"""Explaining a cell, on the wire."""

from typing import Any

from pydantic import BaseModel, ConfigDict, Field

from ....core.explain.explain import Cause
from ....core.explain.remedies import Remedy
from ...wire import Out
from ..cells.schemas import CellIn


class ExplainIn(BaseModel):
    """The pair in question: the cell on the stage, the piece what shows comes through, and the layer that shows; the one that shows most
    if it is not named."""

    model_config = ConfigDict(extra="forbid")
    cell: CellIn
    over: str = Field(max_length=80)
    under: str | None = Field(default=None, max_length=80)
    wearer: int | None = None
    ease: float = Field(default=0.004, ge=0.0, le=0.05)


class CauseOut(Out):
    """A factor that was undone: what then still shows (cm2), and whether it is a cause."""

    kind: str
    words: str
    left_cm2: float
    is_cause: bool

    @classmethod
    def of(cls, found: Cause) -> "CauseOut":
        """Return a cause."""
        return cls(kind=found.kind, words=found.words, left_cm2=round(found.left, 3), is_cause=found.is_cause)


class RemedyOut(Out):
    """A remedy that was tried: what the cell then shows, and what it costs."""

    kind: str
    words: str
    do: dict[str, Any]
    area_cm2: float
    depth_mm: float
    move_mm: float
    edges_percent: float
    folds_degrees: float
    hidden: int
    worse: int
    neighbours: int
    holds: bool
    cost: float

    @classmethod
    def of(cls, found: Remedy) -> "RemedyOut":
        """Return a remedy."""
        return cls(kind=found.kind, words=found.words, do=found.do, area_cm2=found.area, depth_mm=found.depth, move_mm=found.move,
                   edges_percent=found.edges, folds_degrees=found.folds, hidden=found.hidden, worse=found.worse, neighbours=found.near,
                   holds=found.holds, cost=round(found.cost, 2))


class ExplainedOut(Out):
    """One line of an explanation as it comes: a cause, a remedy, or what is being tried; the last says `done`."""

    cause: CauseOut | None = None
    remedy: RemedyOut | None = None
    trying: str = ""
    done: bool = False

    @classmethod
    def of(cls, found: Cause | Remedy | str) -> "ExplainedOut":
        """Return a line of an explanation."""
        if isinstance(found, str):
            return cls(trying=found)
        return cls(cause=CauseOut.of(found)) if isinstance(found, Cause) else cls(remedy=RemedyOut.of(found))
