"""Drop: loose parts taken off."""

from typing import Literal

import numpy as np
from pydantic import Field

from ....errors import InputError
from ....mesh.islands import islands
from ....mesh.ops.subset import with_triangles, without_unused
from ....model.state import Piece
from ....model.steps.alteration import Alteration
from ....model.steps.work import WorkReport
from ....work.worked import with_mesh
from ...step import Context
from .work_step import work_step


class Drop(Alteration):
    """Take off loose parts, each named by a received row of it."""

    kind: Literal["drop"] = "drop"
    parts: tuple[int, ...] = Field(min_length=1)


def run(piece: Piece, context: Context, step: Drop) -> tuple[Piece, WorkReport]:
    """Return the piece without the parts. Raises `InputError` if they are not there or nothing else is."""
    mesh = piece.mesh
    _, label = islands(mesh.triangles, len(mesh.points))
    rows = np.flatnonzero(np.isin(mesh.received if mesh.received is not None else np.arange(len(label)), step.parts))
    gone = np.isin(label, label[rows])[mesh.triangles[:, 0]]
    if not gone.any() or gone.all():
        raise InputError(what="that part is not there" if not gone.any() else "nothing would be left", where="taking parts off",
                         todo="Choose a loose part of the piece, such as a button or a strap.")
    made = without_unused(with_triangles(mesh, ~gone))
    return with_mesh(piece, made), WorkReport(kind=step.kind, vertices=len(made.points), triangles=len(made.triangles))


STEP = work_step(Drop, run)
