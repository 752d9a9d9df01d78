"""Thicken: cloth given a second side."""

from typing import Literal

from pydantic import Field

from ....model.state import Piece
from ....model.steps.alteration import Alteration
from ....model.steps.work import WorkReport
from ....work.solid import thickened
from ....work.worked import with_mesh
from ...step import Context
from .work_step import work_step


class Thicken(Alteration):
    """Give the cloth `thick` metres towards the body, borders closed."""

    kind: Literal["thicken"] = "thicken"
    thick: float = Field(default=0.002, gt=0.0001, le=0.05)


def run(piece: Piece, context: Context, step: Thicken) -> tuple[Piece, WorkReport]:
    """Return the piece with two sides."""
    made = thickened(piece.mesh, step.thick)
    return with_mesh(piece, made), WorkReport(kind=step.kind, vertices=len(made.points), triangles=len(made.triangles))


STEP = work_step(Thicken, run)
