"""Fix: a corrective made by hand in a pose."""

from pydantic import Field

from ...clear.pose_fix import fixed
from ...model.report import Report
from ...model.state import Piece
from ...model.steps.clear import Fix
from ..step import BenchStep, Context


class FixReport(Report):
    """What one corrective made by hand came to (metres)."""

    key, several = "fix", True
    pose: str
    lost: int
    unknown: list[str] = Field(default_factory=list)
    moved: float


def run(piece: Piece, context: Context, step: Fix) -> tuple[Piece, FixReport]:
    """Return the piece with the corrective."""
    made, figures = fixed(piece, context.body, step, context.carrier)
    return made, FixReport.from_figures(figures)


STEP = BenchStep(Fix, (FixReport,), run, order="clear", bench="clear", repeats=True, needs="bind")
