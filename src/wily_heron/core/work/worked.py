"""What the alterations of the work step share: the piece in the hand, its small parts kept whole, another topology put in."""

from dataclasses import replace

import numpy as np

from ..figure.base.body import Wearer
from ..fit.skin_under import under_of
from ..fit.solve_fit import Goal, solve_fit
from ..mesh.mesh import Mesh
from ..mesh.rigid_islands import stick_islands, stiff_islands
from ..model.state import Piece
from ..space.under import Under, turned_out
from .strokes import Stroking


def stroking(state: Piece, under: Under | None) -> Stroking:
    """Return the piece in the hand."""
    rows = state.mesh.received if state.mesh.received is not None else np.arange(len(state.mesh.points))
    return Stroking(state.mesh.points, state.mesh.triangles, rows, under, state.protect)


def kept_off(points: np.ndarray, mesh: Mesh, wearer: Wearer, ease: float) -> np.ndarray:
    """Return points (n, 3) with what lies nearer to the skin than `ease` eased out smoothly.

    Args:
        points: (n, 3) float, metres.
        mesh: The mesh, in metres.
        wearer: The body in its shape, at rest.
        ease: How far apart layers are brought, metres.
    """
    under = under_of(wearer)
    wanted = np.full(len(points), ease)
    outward = -1.0 if turned_out(points, mesh.triangles, under.skin) < -0.2 else 1.0
    return solve_fit(
        points, mesh.triangles, under, Goal(wanted, wanted, np.zeros(len(points), bool)), stiff_islands(points, mesh.triangles), outward
    )


def with_buttons(mesh: Mesh, points: np.ndarray) -> np.ndarray:
    """Return points (n, 3) of a mesh with its buttons and buckles carried by the cloth under them, unbent.

    Args:
        mesh: The mesh, in metres.
        points: (n, 3) float, metres.
    """
    return stick_islands(
        np.asarray(points, np.float64), mesh.points.astype(np.float64), mesh.triangles, stiff_islands(mesh.points, mesh.triangles)
    )


def with_mesh(state: Piece, mesh: Mesh) -> Piece:
    """Return the piece with a mesh of another topology; what was painted on its old vertices goes along by the rows they came from.

    Args:
        state: The piece as it stands.
        mesh: The mesh, in metres.
    """
    protect = None
    if state.protect is not None and state.mesh.received is not None and mesh.received is not None:
        by_row = np.zeros(int(max(state.mesh.received.max(), mesh.received.max())) + 1, np.float32)
        by_row[state.mesh.received] = state.protect
        protect = by_row[mesh.received]
    return replace(state, mesh=mesh, protect=protect, trouble=None)
