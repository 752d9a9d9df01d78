"""Weigh: a stroke of the weight brush, or a mend of what checking the weights found."""

from ...follow.bound_piece import weighed
from ...model.state import Piece
from ...model.steps.bind import MendWeights, Weigh, WeighReport
from ..step import BenchStep, Context


def run(piece: Piece, context: Context, step: Weigh | MendWeights) -> tuple[Piece, WeighReport]:
    """Return the piece with its weights changed, and checked anew."""
    return weighed(piece, context.wearer, step)


STEP = BenchStep(Weigh, (WeighReport,), run, order="weigh", bench="bind", repeats=True, needs="bind")
MEND = BenchStep(MendWeights, (WeighReport,), run, order="weigh", bench="bind", repeats=True, needs="bind")
