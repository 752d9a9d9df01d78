"""Hide: skin that the piece covers is left out, or cloth of its own that others cover."""

from ...clear.cleared_piece import hidden, left_out
from ...model.report import Report
from ...model.state import Piece
from ...model.steps.clear import Hide
from ..step import BenchStep, Context


class HideReport(Report):
    """How many faces of the body, or of the piece itself, are left out, and over how many cells they were tried or that it was by hand."""

    key = "hide"
    faces: int
    of: int
    cells: int
    by_hand: bool = False


class LeaveOutReport(HideReport):
    """The same of the piece's own faces."""

    key = "leave_out"


def run(piece: Piece, context: Context, step: Hide) -> tuple[Piece, HideReport]:
    """Return the piece with what is covered left out."""
    act, report = (left_out, LeaveOutReport) if step.of == "cloth" else (hidden, HideReport)
    made, figures = act(piece, context.body, step, context.layer_of)
    return made, report.from_figures(figures)


STEP = BenchStep(Hide, (HideReport, LeaveOutReport), run, order="clear", bench="clear", repeats=True, needs="bind")
