"""Stroke: a hand tool drawn over the cloth, or its protecting mask."""

from dataclasses import replace

import numpy as np

from ....fit.skin_under import under_of
from ....model.state import Piece
from ....model.steps.hand import Stroke
from ....model.steps.work import WorkReport
from ....work.worked import stroking, with_buttons
from ...step import Context
from .work_step import work_step


def run(piece: Piece, context: Context, step: Stroke) -> tuple[Piece, WorkReport]:
    """Return the piece after the stroke; what is no longer there is not touched."""
    hand = stroking(piece, under_of(context.wearer) if step.tool == "press" else None)
    touched, lost = hand.apply(step)
    made = replace(piece, mesh=piece.mesh.moved(with_buttons(piece.mesh, hand.points)),
                   protect=hand.protect.astype(np.float32) if hand.protect.any() else None)
    return made, WorkReport(kind=step.kind, tool=step.tool, touched=len(touched), lost=lost)


STEP = work_step(Stroke, run)
