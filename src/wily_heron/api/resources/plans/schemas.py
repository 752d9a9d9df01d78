"""Plans of the sheet on the wire."""

from typing import Literal

from pydantic import BaseModel, ConfigDict

from ...wire import Out


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
