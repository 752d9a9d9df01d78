"""Trim: cut along a plane, a line or a selection."""

from ....model.state import Piece
from ....model.steps.trim import Trim
from ....work.trim import trim
from ....work.worked import with_mesh
from ...step import Context
from .report import WorkReport, work_step


def run(piece: Piece, context: Context, step: Trim) -> tuple[Piece, WorkReport]:
    """Return the piece cut, or opened by a slit."""
    mesh, found = trim(piece.mesh, step)
    report = {"kind": step.kind, **found, "vertices": len(mesh.points), "triangles": len(mesh.triangles)}
    return with_mesh(piece, mesh), WorkReport.from_figures(report)


STEP = work_step(Trim, run)
