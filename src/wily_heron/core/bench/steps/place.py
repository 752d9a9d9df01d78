"""Place: moved, turned, scaled and mirrored to where it is worn."""

from dataclasses import replace

import numpy as np

from ...mesh.ops.subset import turned_over
from ...model.report import Report
from ...model.state import Piece
from ...model.steps.receive import Place
from ...receive.place import place
from ..step import BenchStep, Context


class PlaceReport(Report):
    """How far a piece was `moved` (metres)."""

    key = "place"
    moved: float


def run(piece: Piece, context: Context, step: Place) -> tuple[Piece, PlaceReport]:
    """Return the piece where it was put; mirrored, its faces are turned over."""
    mesh = turned_over(piece.mesh, np.ones(len(piece.mesh.triangles), bool)) if step.mirror else piece.mesh
    return replace(piece, mesh=mesh.moved(place(piece.mesh.points, step))), PlaceReport(moved=float(np.linalg.norm(step.move)))


STEP = BenchStep(Place, (PlaceReport,), run, order="place", bench="place")
