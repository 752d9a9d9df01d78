"""Receive: unit and axes put right, accepted mends done."""

from dataclasses import replace

from ...model.model import Model
from ...model.state import Piece
from ...model.steps.receive import Receive, ReceiveReport
from ...receive.receive import receive
from ..step import BenchStep, Context


def run(piece: Piece, context: Context, step: Receive) -> tuple[Piece, ReceiveReport]:
    """Return the piece in metres, Y up, with what came along in the same place."""
    got = receive(piece.brought or Model(piece.mesh), step, float(context.wearer.points[:, 1].max()))
    return replace(piece, mesh=got.mesh, brought=got.brought, made_for=step.made_for), got.report


STEP = BenchStep(Receive, (ReceiveReport,), run, order="receive", bench="receive")
