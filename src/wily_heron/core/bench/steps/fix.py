"""Fix: a corrective made by hand in a pose."""

from ...clear.pose_fix import fixed
from ...model.state import Piece
from ...model.steps.clear import Fix, FixReport
from ..step import BenchStep, Context


def run(piece: Piece, context: Context, step: Fix) -> tuple[Piece, FixReport]:
    """Return the piece with the corrective."""
    return fixed(piece, context.body, step, context.carrier)


STEP = BenchStep(Fix, (FixReport,), run, order="clear", bench="clear", repeats=True, needs="bind")
