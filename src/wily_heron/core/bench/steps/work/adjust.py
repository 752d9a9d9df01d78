"""Adjust: let out, take in, raise, drop, flare, lift."""

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ....model.state import Piece
from ....model.steps.alteration import Alteration
from ....model.steps.work import WorkReport
from ....work.adjusters import adjusted, adjusters
from ....work.worked import kept_off, with_buttons
from ...step import Context
from .work_step import work_step


class Adjust(Alteration):
    """Adjusters by name, each usually -1 to 1; `clear` keeps the piece at `ease` metres off what lies under it."""

    kind: Literal["adjust"] = "adjust"
    values: dict[str, Annotated[float, Field(ge=-3.0, le=3.0)]] = Field(default_factory=dict)
    clear: bool = True
    ease: float = Field(default=0.004, ge=0.0, le=0.1)


def run(piece: Piece, context: Context, step: Adjust) -> tuple[Piece, WorkReport]:
    """Return the piece adjusted; adjusters that it does not have are told."""
    mesh = piece.mesh
    points, unknown = adjusted(mesh.points, adjusters(mesh.points, mesh.triangles, context.carrier()), step.values)
    points = with_buttons(mesh, points)
    report = WorkReport(kind=step.kind, unknown=unknown, moved=float(np.linalg.norm(points - mesh.points, axis=1).max()))
    return replace(piece, mesh=mesh.moved(kept_off(points, mesh, context.wearer, step.ease) if step.clear else points)), report


STEP = work_step(Adjust, run)
