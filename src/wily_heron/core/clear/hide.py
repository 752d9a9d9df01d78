"""Hiding what is covered: the faces of the skin, or of a piece under others, that no one can see in any tried cell."""

from collections.abc import Sequence

import numpy as np

from ..clearance.skin_holes import cloth_holes, holes, seen_either_way, seen_faces
from ..figure.base.body import Body, shaped
from ..figure.base.pose_types import REST
from ..mesh.normals import triangle_normals
from ..model.state import Piece
from ..model.worn import worn_points
from ..motion.pose import Pose, posed_body
from ..space.tree_memo import tree_on
from .layers import ALONE, Layers


def covered_faces(piece: Piece, body: Body, cells: Sequence[tuple[np.ndarray, Pose]], layers: Layers = ALONE, rings: int = 2) -> np.ndarray:
    """Return the faces (h,) int32 of the body that `piece` and its layers hide from every side in every cell, less `rings` faces of margin.

    A face counts as hidden when no ray from three points of it leaves past the pieces in any of 98 directions it faces; the skin itself
    hides nothing, since it may be left out. The rest pose of each wearer is tried as well. Faces with nothing over them close by are
    left out of the question.

    Args:
        piece: The piece, bound.
        body: The body, in any shape.
        cells: Shape values (s,) and pose of each.
        layers: The pieces under it and over it.
        rings: How many rings of faces are left as a margin.
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
    return _within(hidden, body.triangles, rings)


def covered_cloth(piece: Piece, body: Body, cells: Sequence[tuple[np.ndarray, Pose]], layers: Layers, rings: int = 2) -> np.ndarray:
    """Return the faces (l,) int32 of `piece` itself that the pieces over it hide from every side in every cell, less a margin of `rings`.

    As with skin, but cloth is asked on both of its sides; what lies under it and the skin that is not left out hide it too.

    Args:
        piece: The piece, bound.
        body: The body, in any shape.
        cells: Shape values (s,) and pose of each.
        layers: The pieces under it and over it.
        rings: How many rings of faces are left as a margin.
    """
    triangles, every = piece.mesh.triangles, (*layers.under, piece, *layers.over)
    gone = [p.hidden for p in every if p.hidden is not None]
    skin = np.delete(body.triangles, np.unique(np.concatenate(gone)), axis=0) if gone else body.triangles
    shapes = {shape.tobytes(): shape for shape, _ in cells} or {b"": piece.made_at}
    hidden = np.ones(len(triangles), bool) if layers.over else np.zeros(len(triangles), bool)
    for shape, pose in [*((s, REST) for s in shapes.values()), *cells]:
        if not hidden.any():
            break
        wearer = shaped(body, shape)
        others = [(worn_points(p, wearer, pose), p.shown) for p in (*layers.under, *layers.over)]
        trees = [tree_on(points, t) for points, t in [(posed_body(wearer, pose), skin), *others]]
        rows = np.flatnonzero(hidden)
        hidden[rows[seen_either_way(worn_points(piece, wearer, pose), triangles, rows, trees)]] = False
    return _within(hidden, triangles, rings)


def missed_in(pieces: Sequence[Piece], body: Body, cell: tuple[np.ndarray, Pose], faces: np.ndarray,
              cloth: int | None = None) -> tuple[float, np.ndarray]:
    """Return the area (m2) of `faces` that could be missed in a cell if they were left out, and which they are.

    They are of the skin, or of the piece at `cloth` among `pieces`, from the innermost out.

    Args:
        pieces: The pieces, from the skin out.
        body: The body, in any shape.
        cell: Shape values (s,) and pose.
        faces: (f,) int, rows of its triangles.
        cloth: Which of the pieces they are faces of; the skin if None.
    """
    wearer = shaped(body, cell[0])
    skin, worn = posed_body(wearer, cell[1]), [worn_points(p, wearer, cell[1]) for p in pieces]
    shown = [p.shown for p in pieces]
    if cloth is None:
        return holes(skin, body.triangles, faces, [tree_on(p, t) for p, t in zip(worn, shown, strict=True)])
    triangles = pieces[cloth].mesh.triangles
    shown[cloth] = np.delete(triangles, faces, axis=0)
    gone = [p.hidden for p in pieces if p.hidden is not None]
    whole = np.delete(body.triangles, np.unique(np.concatenate(gone)), axis=0) if gone else body.triangles
    trees = [tree_on(p, t) for p, t in [(skin, whole), *zip(worn, shown, strict=True)]]
    return cloth_holes(worn[cloth], triangles, faces, trees)


def _within(hidden: np.ndarray, triangles: np.ndarray, rings: int) -> np.ndarray:
    """Return the hidden faces that lie more than `rings` faces from any that is not."""
    for _ in range(rings):
        shown = np.zeros(int(triangles.max()) + 1, bool)
        shown[triangles[~hidden]] = True
        hidden = hidden & ~shown[triangles].any(axis=1)
    return np.flatnonzero(hidden).astype(np.int32)


def _under(piece: Piece, body: Body, cells: Sequence[tuple[np.ndarray, Pose]]) -> np.ndarray:
    """Faces with the piece over them: a ray outwards from their middle meets it within 15 cm at rest on the first wearer."""
    wearer = shaped(body, cells[0][0] if cells else piece.made_at)
    tree = tree_on(worn_points(piece, wearer, REST), piece.mesh.triangles)
    middle, normal = wearer.points[body.triangles].mean(axis=1), triangle_normals(wearer.points, body.triangles)
    distance, _ = tree.first_hits(middle + 1e-5 * normal, normal, 0.15)
    return np.isfinite(distance)
