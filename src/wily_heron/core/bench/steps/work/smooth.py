"""Smooth: the cloth evened out."""

from dataclasses import replace
from typing import Literal

from pydantic import Field

from ....mesh.rigid_islands import stiff_islands
from ....model.state import Piece
from ....model.steps.alteration import Alteration
from ....model.steps.work import WorkReport
from ....work.solid import smoothed
from ...step import Context
from .work_step import work_step


class Smooth(Alteration):
    """Even the cloth out, borders kept; `amount` 0 to 1."""

    kind: Literal["smooth"] = "smooth"
    amount: float = Field(default=0.5, gt=0.0, le=1.0)


def run(piece: Piece, context: Context, step: Smooth) -> tuple[Piece, WorkReport]:
    """Return the piece evened out; buttons keep their form."""
    mesh = piece.mesh
    points = smoothed(mesh.points, mesh.triangles, step.amount, stiff_islands(mesh.points, mesh.triangles))
    return replace(piece, mesh=mesh.moved(points)), WorkReport(kind=step.kind)


STEP = work_step(Smooth, run)
