"""Lattice: bent by a box of knots about it."""

from dataclasses import replace

from ....model.state import Piece
from ....model.steps.hand import Lattice
from ....model.steps.work import WorkReport
from ....work.lattice import bent
from ....work.worked import with_buttons
from ...step import Context
from .work_step import work_step


def run(piece: Piece, context: Context, step: Lattice) -> tuple[Piece, WorkReport]:
    """Return the piece bent by the pulled knots."""
    points = with_buttons(piece.mesh, bent(piece.mesh.points, step, piece.protect))
    return replace(piece, mesh=piece.mesh.moved(points)), WorkReport(kind=step.kind)


STEP = work_step(Lattice, run)
