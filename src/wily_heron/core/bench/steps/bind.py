"""Bind: skin weights taken from what lies under, or all on one joint."""

from dataclasses import replace

from ...follow.bound_piece import bound_piece
from ...model.state import Piece
from ...model.steps.bind import Bind, BindReport
from ..step import BenchStep, Context


def run(piece: Piece, context: Context, step: Bind) -> tuple[Piece, BindReport]:
    """Return the piece with its skin weights and the joints of its own."""
    bound = bound_piece(piece, context.wearer, step, context.layers(step.over))
    return replace(piece, skin=bound.skin, riders=bound.riders), bound.report


STEP = BenchStep(Bind, (BindReport,), run, order="bind", bench="bind")
