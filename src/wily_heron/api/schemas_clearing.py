"""Wire types of the clear step: explaining, waiving, pinning, planning."""

from datetime import datetime
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from .schemas import CellIn
from .schemas_base import Out


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


class ExplainedOut(Out):
    """One line of an explanation as it comes: a cause, a remedy, or what is being tried; the last says `done`."""

    cause: CauseOut | None = None
    remedy: RemedyOut | None = None
    trying: str = ""
    done: bool = False


class WaiverIn(BaseModel):
    """Leave what shows through a piece in a cell as it is, for a reason; `by_shots` only as long as no shot sees it."""

    model_config = ConfigDict(extra="forbid")
    wearer: int
    pose: str
    over: str = Field(max_length=80)
    reason: str = Field(min_length=1, max_length=200)
    by_shots: bool = False


class WaiverOut(Out):
    """What is left as it is, why, and who said so."""

    id: int
    wearer: int
    pose: str
    over: str
    reason: str
    by_shots: bool
    author: str
    made_at: datetime


class PinIn(BaseModel):
    """A cell that matters, or no longer."""

    model_config = ConfigDict(extra="forbid")
    wearer: int
    pose: str
    pinned: bool = True


class PinOut(Out):
    """A cell that matters."""

    wearer: int
    pose: str


class PlanLineOut(Out):
    """One alteration of a plan: on which piece, what, in how many cells, what shows there before and after (cm2)."""

    piece: int
    piece_name: str
    words: str
    cells: int
    before_cm2: float
    after_cm2: float
    greatest_move_mm: float = 0.0


class PlanCellOut(Out):
    """What a plan does to one cell of the sheet (cm2, mm)."""

    wearer: int
    pose: str
    before_cm2: float
    after_cm2: float
    clearance_mm: float
    why: str = ""


class PlanIn(BaseModel):
    """The one cell a plan is for: all pieces on a wearer in a pose."""

    model_config = ConfigDict(extra="forbid")
    wearer: int
    pose: str


class PlanOut(Out):
    """A plan that clears the sheet, or one cell of it."""

    id: int
    cell: PlanIn | None
    state: Literal["planning", "ready", "done", "undone", "cancelled", "failed"]
    done: int
    total: int
    lines: list[PlanLineOut]
    cells: list[PlanCellOut]
    why: str


class TrialBriefOut(Out):
    """A run of the sheet in one line, to compare with."""

    id: int
    state: str
    total: int
    holding: int
    started_at: datetime
