"""Steam: creases of a chosen region relaxed, its larger folds kept."""

from dataclasses import replace
from typing import Literal

import numpy as np
from pydantic import Field
from scipy import sparse
from scipy.sparse.linalg import splu

from ....errors import InputError
from ....mesh.edges import border_vertices
from ....mesh.laplacian import cotangent_laplacian
from ....mesh.mesh import Mesh
from ....model.state import Piece
from ....model.steps.alteration import Alteration
from ....model.steps.work import WorkReport
from ....space.surface import Surface, soft
from ....work.worked import with_buttons
from ...step import Context
from .work_step import work_step


class Steam(Alteration):
    """Relax the creases within `radius` metres along the surface of any of the received `rows`: folds narrower than `crease` metres go,
    wider ones stay. `amount` 0 to 1 is how much of them."""

    kind: Literal["steam"] = "steam"
    rows: tuple[int, ...] = Field(min_length=1, max_length=20000)
    radius: float = Field(default=0.06, gt=0.002, le=0.6)
    crease: float = Field(default=0.04, ge=0.005, le=0.3)
    amount: float = Field(default=0.8, gt=0.0, le=1.0)


def run(piece: Piece, context: Context, step: Steam) -> tuple[Piece, WorkReport]:
    """Return the piece with the region relaxed; borders and buttons keep their place. Raises `InputError` if the region is cut away."""
    mesh = piece.mesh
    received = mesh.received if mesh.received is not None else np.arange(len(mesh.points))
    start = np.flatnonzero(np.isin(received, step.rows))
    if not len(start):
        raise InputError(what="the region has been cut away", where="the steam alteration", todo="Take it back, or choose another region.")
    rows, distance = Surface.of(mesh.points, mesh.triangles).within(start, step.radius)
    share = np.zeros(len(mesh.points))
    share[rows] = step.amount * soft(distance, step.radius)
    if piece.protect is not None:
        share *= 1.0 - piece.protect
    p = mesh.points.astype(np.float64)
    points = with_buttons(mesh, p + share[:, None] * (_without_creases(mesh, step.crease) - p))
    moved = float(np.linalg.norm(points - p, axis=1).max())
    return replace(piece, mesh=mesh.moved(points)), WorkReport(kind=step.kind, touched=int((share > 0).sum()), moved=moved)


def _without_creases(mesh: Mesh, crease: float) -> np.ndarray:
    """Return points (n, 3) float64 from which folds narrower than `crease` metres are gone, borders kept where they are.

    A fold of width w keeps 1 / (1 + (crease / w)^4) of its height. Follows: Desbrun et al., Implicit fairing of irregular meshes using
    diffusion and curvature flow, 1999, of second order.
    """
    laplacian, mass = cotangent_laplacian(mesh.points, mesh.triangles)
    bending = (crease / (2.0 * np.pi)) ** 4 * laplacian @ sparse.diags(1.0 / mass) @ laplacian
    held = np.where(border_vertices(mesh.triangles, len(mass)), 1e6 * mass, mass)
    system = (sparse.diags(held) + bending).tocsc()
    factor = splu(system, permc_spec="MMD_AT_PLUS_A", options={"SymmetricMode": True}, diag_pivot_thresh=0.0)
    return factor.solve(held[:, None] * mesh.points.astype(np.float64))


STEP = work_step(Steam, run, words={
    "name": "Steam", "crease": "Creases under", "busy": "Drag over them…",
    "hint": "Drag over the creases; the brush's radius says how wide. Wider folds stay.",
})  # fmt: skip
