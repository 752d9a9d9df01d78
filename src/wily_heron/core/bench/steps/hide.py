"""Hide: skin that the piece covers is left out, or cloth of its own that others cover."""

from ...clear.cleared_piece import hidden, left_out
from ...model.state import Piece
from ...model.steps.clear import Hide, HideReport, LeaveOutReport
from ..step import BenchStep, Context


def run(piece: Piece, context: Context, step: Hide) -> tuple[Piece, HideReport]:
    """Return the piece with what is covered left out."""
    act = left_out if step.of == "cloth" else hidden
    return act(piece, context.body, step, context.layer_of)


STEP = BenchStep(Hide, (HideReport, LeaveOutReport), run, order="clear", bench="clear", repeats=True, needs="bind")
