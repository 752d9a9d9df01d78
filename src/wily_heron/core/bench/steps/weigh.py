"""Weigh: a stroke of the weight brush, or a mend of what checking the weights found."""

from ...follow.bound_piece import weighed
from ...model.report import Report
from ...model.state import Piece
from ...model.steps.bind import MendWeights, Weigh
from ..step import BenchStep, Context


class WeighReport(Report):
    """What one stroke of the weight brush or one mend did."""

    key, several = "weigh", True
    kind: str
    tool: str | None = None
    joint: str | None = None
    touched: int | None = None
    mended: int | None = None
    left: int | None = None


def run(piece: Piece, context: Context, step: Weigh | MendWeights) -> tuple[Piece, WeighReport]:
    """Return the piece with its weights changed, and checked anew."""
    made, figures = weighed(piece, context.wearer, step)
    return made, WeighReport.from_figures({"kind": step.kind, **figures})


STEP = BenchStep(Weigh, (WeighReport,), run, order="weigh", bench="bind", repeats=True, needs="bind")
MEND = BenchStep(MendWeights, (WeighReport,), run, order="weigh", bench="bind", repeats=True, needs="bind")
