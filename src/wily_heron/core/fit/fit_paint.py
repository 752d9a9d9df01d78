"""What the artist says of single parts before fitting: how much ease they get, and which keep their form."""

import numpy as np

from ..mesh.islands import islands
from ..mesh.mesh import Mesh
from ..mesh.rigid_islands import stiff_islands
from ..model.steps.fit import Fit
from ..space.surface import Surface, soft


def painted(mesh: Mesh, step: Fit) -> np.ndarray | None:
    """Return the ease asked for at each vertex (n,), None where nothing is painted.

    Args:
        mesh: The mesh, in metres.
        step: What is asked for, as a step of the bench.
    """
    if not step.paint:
        return None
    surface, ease = Surface.of(mesh.points, mesh.triangles), np.full(len(mesh.points), step.ease)
    for dab in step.paint:
        start = _rows(mesh, (dab.at,))
        if len(start):
            rows, far = surface.within(start[:1], dab.radius)
            ease[rows] += dab.value * soft(far, dab.radius)
    return np.maximum(ease, 0.0)


def rigid_parts(mesh: Mesh, step: Fit) -> np.ndarray:
    """Return the vertices (n,) bool of parts that keep their form: small islands, less and plus what is named by hand.

    Args:
        mesh: The mesh, in metres.
        step: What is asked for, as a step of the bench.
    """
    if step.stiff == "all":
        return np.ones(len(mesh.points), bool)
    still = stiff_islands(mesh.points, mesh.triangles)
    if step.rigid or step.cloth:
        _, label = islands(mesh.triangles, len(mesh.points))
        still = (still | np.isin(label, label[_rows(mesh, step.rigid)])) & ~np.isin(label, label[_rows(mesh, step.cloth)])
    return still


def _rows(mesh: Mesh, received: tuple[int, ...]) -> np.ndarray:
    if mesh.received is None:
        return np.array([r for r in received if r < len(mesh.points)], np.int64)
    return np.flatnonzero(np.isin(mesh.received, received))
