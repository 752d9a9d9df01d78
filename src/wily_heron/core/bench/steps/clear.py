"""Clear: eased out, tucked in, or given way under, in the cells where something shows."""

from ...clear.cleared_piece import cleared
from ...model.state import Piece
from ...model.steps.clear import Clear, ClearReport
from ..step import BenchStep, Context


def run(piece: Piece, context: Context, step: Clear) -> tuple[Piece, ClearReport]:
    """Return the piece cleared in the cells of the step."""
    return cleared(piece, context.body, step, context.layer_of)


STEP = BenchStep(Clear, (ClearReport,), run, order="clear", bench="clear", repeats=True, needs="bind")
