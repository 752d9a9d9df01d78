"""Hiding covered skin: the faces that no one can see in any tried cell."""

from collections.abc import Sequence

import numpy as np

from ..figure.body import Body, shaped
from ..figure.pose import Pose, posed_body
from ..figure.pose_types import REST
from ..mesh.normals import triangle_normals
from ..piece.state import Piece
from ..piece.worn import worn_points
from ..space.tree_memo import tree_on
from .layers import ALONE, Layers
from .skin_holes import seen_faces


def covered_faces(piece: Piece, body: Body, cells: Sequence[tuple[np.ndarray, Pose]], layers: Layers = ALONE, rings: int = 2) -> np.ndarray:
    """Return the faces (h,) int32 of the body that `piece` and its layers hide from every side in every cell, less `rings` faces of margin.

    A face counts as hidden when no ray from three points of it leaves past the pieces in any of 98 directions it faces; the skin itself
    hides nothing, since it may be left out. The rest pose of each wearer is tried as well. Faces with nothing over them close by are
    left out of the question.
    """
    hidden = _under(piece, body, cells)
    shapes = {shape.tobytes(): shape for shape, _ in cells}
    for shape, pose in [*((s, REST) for s in shapes.values()), *cells]:
        if not hidden.any():
            break
        wearer = shaped(body, shape)
        pieces = (*layers.under, piece, *layers.over)
        trees = [tree_on(worn_points(p, wearer, pose), p.mesh.triangles) for p in pieces]
        rows = np.flatnonzero(hidden)
        hidden[rows[seen_faces(posed_body(wearer, pose), body.triangles, rows, trees)]] = False
    for _ in range(rings):
        shown = np.zeros(len(body.base), bool)
        shown[body.triangles[~hidden]] = True
        hidden &= ~shown[body.triangles].any(axis=1)
    return np.flatnonzero(hidden).astype(np.int32)


def _under(piece: Piece, body: Body, cells: Sequence[tuple[np.ndarray, Pose]]) -> np.ndarray:
    """Faces with the piece over them: a ray outwards from their middle meets it within 15 cm at rest on the first wearer."""
    wearer = shaped(body, cells[0][0] if cells else piece.made_at)
    tree = tree_on(worn_points(piece, wearer, REST), piece.mesh.triangles)
    middle, normal = wearer.points[body.triangles].mean(axis=1), triangle_normals(wearer.points, body.triangles)
    distance, _ = tree.first_hits(middle + 1e-5 * normal, normal, 0.15)
    return np.isfinite(distance)
