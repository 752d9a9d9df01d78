"""Mirror: one half made the image of the other."""

from typing import Literal

from ....model.state import Piece
from ....model.steps.alteration import Alteration
from ....model.steps.work import WorkReport
from ....work.solid import mirrored_half
from ....work.worked import with_mesh
from ...step import Context
from .work_step import work_step


class MirrorHalf(Alteration):
    """Replace the half that is not `keep` by the mirror image of the one that is."""

    kind: Literal["mirror"] = "mirror"
    keep: Literal["left", "right"] = "left"


def run(piece: Piece, context: Context, step: MirrorHalf) -> tuple[Piece, WorkReport]:
    """Return the piece with both halves alike."""
    made = mirrored_half(piece.mesh, step.keep == "left")
    return with_mesh(piece, made), WorkReport(kind=step.kind, vertices=len(made.points), triangles=len(made.triangles))


STEP = work_step(MirrorHalf, run)
