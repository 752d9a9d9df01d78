"""Follow: given every shape of the body."""

from ...follow.bound_piece import following_piece
from ...model.state import Piece
from ...model.steps.follow import Follow, FollowReport
from ..step import BenchStep, Context


def run(piece: Piece, context: Context, step: Follow) -> tuple[Piece, FollowReport]:
    """Return the piece that changes as its body does, kept off what lies under it."""
    return following_piece(piece, context.wearer, step, context.layers(step.over))


STEP = BenchStep(Follow, (FollowReport,), run, order="follow", bench="follow", needs="bind")
