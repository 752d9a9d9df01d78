"""Follow: given every shape of the body."""

from ...follow.bound_piece import following_piece
from ...model.report import Report
from ...model.state import Piece
from ...model.steps.follow import Follow
from ..step import BenchStep, Context


class FollowReport(Report):
    """Which shapes the piece carries, how many correctives they needed, and vertices short of their ease before and after."""

    key = "follow"
    shapes: int
    under: float
    own: int = 0
    correctives: int = 0
    short: int = 0
    left: int = 0


def run(piece: Piece, context: Context, step: Follow) -> tuple[Piece, FollowReport]:
    """Return the piece that changes as its body does, kept off what lies under it."""
    made, told = following_piece(piece, context.wearer, step, context.layers(step.over))
    return made, FollowReport.from_figures(told)


STEP = BenchStep(Follow, (FollowReport,), run, order="follow", bench="follow", needs="bind")
