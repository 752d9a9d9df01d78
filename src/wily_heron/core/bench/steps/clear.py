"""Clear: eased out, tucked in, or given way under, in the cells where something shows."""

from pydantic import Field

from ...clear.cleared_piece import cleared
from ...model.report import Found, Report
from ...model.state import Piece
from ...model.steps.clear import Clear
from ..step import BenchStep, Context


class CellFigures(Found):
    """A cell in three figures."""

    clearance_mm: float
    area_cm2: float
    places: int


class ClearedCell(Found):
    """One cell of a clearing, before and after; `kept` is false where easing out would have made it worse. Where loose cloth `fell`,
    `stretch` says how many times its length its most stretched edge was before and after."""

    pose: str
    kept: bool
    why: str | None = None
    before: CellFigures | None = None
    after: CellFigures | None = None
    moved: int = 0
    greatest_move: float = 0.0
    fell: bool = False
    stretch: list[float] | None = None


class WayKept(Found):
    """One way of keeping a clearing: what then shows (cm2) in its cells, and in others."""

    keep: str
    here: float
    apart: float


class ClearReport(Report):
    """What one clear step reached; `ways` are those in which it could be kept, the one taken first, where they were tried."""

    key, several = "clear", True
    cells: list[ClearedCell]
    cleared: int
    of: int
    ways: list[WayKept] = Field(default_factory=list)


def run(piece: Piece, context: Context, step: Clear) -> tuple[Piece, ClearReport]:
    """Return the piece cleared in the cells of the step."""
    made, figures = cleared(piece, context.body, step, context.layer_of)
    return made, ClearReport.from_figures(figures)


STEP = BenchStep(Clear, (ClearReport,), run, order="clear", bench="clear", repeats=True, needs="bind")
