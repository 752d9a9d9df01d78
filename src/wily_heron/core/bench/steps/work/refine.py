"""Refine: finer faces where the body under them bends, or everywhere."""

from typing import Literal

import numpy as np
from pydantic import Field

from ....errors import InputError
from ....mesh.edges import unique_edges
from ....model.state import Piece
from ....model.steps.alteration import Alteration
from ....model.steps.work import WorkReport
from ....work.solid import bends, refined
from ....work.worked import with_mesh
from ...step import Context
from .work_step import work_step

MAX_FACES = 400_000
"""A piece of more faces is slow in every later step."""


class Refine(Alteration):
    """Finer faces: everywhere, or only where the body under them bends and they are longer than `longest` metres."""

    kind: Literal["refine"] = "refine"
    where: Literal["joints", "all"] = "joints"
    longest: float = Field(default=0.012, ge=0.001, le=0.2)


def run(piece: Piece, context: Context, step: Refine) -> tuple[Piece, WorkReport]:
    """Return the piece with its long faces split. Raises `InputError` if none is, or if there would be too many."""
    mesh = piece.mesh
    bending = bends(mesh, context.wearer) > 0.5 if step.where == "joints" else np.ones(len(mesh.points), bool)
    edges, face_edges = unique_edges(mesh.triangles)
    long = np.linalg.norm(mesh.points[edges[:, 0]] - mesh.points[edges[:, 1]], axis=1) > step.longest
    chosen = bending[mesh.triangles].any(axis=1) & long[face_edges].any(axis=1)
    if not chosen.any():
        where = "where the body bends" if step.where == "joints" else "anywhere"
        raise InputError(what=f"no face {where} is longer than {1000 * step.longest:.0f} mm", where="refining",
                         todo="It is fine enough, or ask for shorter faces.")
    if 4 * chosen.sum() + len(mesh.triangles) > MAX_FACES:
        raise InputError(what=f"it would have more than {MAX_FACES:,} faces", where="refining", todo="Refine only where joints bend.")
    made = refined(mesh, chosen)
    return with_mesh(piece, made), WorkReport(kind=step.kind, vertices=len(made.points), triangles=len(made.triangles))


STEP = work_step(Refine, run)
