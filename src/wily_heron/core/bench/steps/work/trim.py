"""Trim: cut along a plane, a line or a selection."""

from ....model.state import Piece
from ....model.steps.trim import Trim
from ....model.steps.work import WorkReport
from ....work.trim import trim
from ....work.worked import with_mesh
from ...step import Context
from .work_step import work_step


def run(piece: Piece, context: Context, step: Trim) -> tuple[Piece, WorkReport]:
    """Return the piece cut, or opened by a slit."""
    mesh, report = trim(piece.mesh, step)
    return with_mesh(piece, mesh), report


STEP = work_step(Trim, run)
