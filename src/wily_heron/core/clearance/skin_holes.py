"""Holes: skin or cloth that was left out and can be missed from some side."""

import numpy as np

from ..mesh.normals import triangle_areas, triangle_normals
from ..space.tree import TriangleTree
from .find.find import sees_out

_INSET = np.array([[4, 1, 1], [1, 4, 1], [1, 1, 4]]) / 6.0


def seen_faces(points: np.ndarray, triangles: np.ndarray, faces: np.ndarray, blockers: list[TriangleTree]) -> np.ndarray:
    """Return `(f,) bool`: which of `faces` can be seen past the blockers from somewhere.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        faces: (f,) int, rows of triangles.
        blockers: What may stand before a point, as trees of triangles.
    """
    corner, normal = np.asarray(points, np.float64)[triangles[faces]], triangle_normals(points, triangles[faces])
    seen = np.zeros(len(faces), bool)
    for where in _INSET:
        ask = np.flatnonzero(~seen)
        seen[ask] = sees_out(np.einsum("k,tka->ta", where, corner[ask]), normal[ask], blockers)
    return seen


def seen_either_way(points: np.ndarray, triangles: np.ndarray, faces: np.ndarray, blockers: list[TriangleTree]) -> np.ndarray:
    """Return `(f,) bool`: which of `faces` can be seen past the blockers on one of their two sides.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        faces: (f,) int, rows of triangles.
        blockers: What may stand before a point, as trees of triangles.
    """
    seen = seen_faces(points, triangles, faces, blockers)
    ask = np.flatnonzero(~seen)
    seen[ask] = seen_faces(points, triangles[:, ::-1], faces[ask], blockers)
    return seen


def holes(points: np.ndarray, triangles: np.ndarray, hidden: np.ndarray, blockers: list[TriangleTree]) -> tuple[float, np.ndarray]:
    """Return the area (m2) of hidden faces of the posed skin (n, 3) that can be seen, and which faces they are.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        hidden: (h,) int, the faces that are left out.
        blockers: What may stand before a point, as trees of triangles.
    """
    return _missed(points, triangles, hidden, seen_faces(points, triangles, hidden, blockers))


def cloth_holes(points: np.ndarray, triangles: np.ndarray, left_out: np.ndarray, blockers: list[TriangleTree]) -> tuple[float, np.ndarray]:
    """Return the area (m2) of left-out faces of posed cloth (n, 3) that can be seen from either side, and which faces they are.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        left_out: (l,) int, the faces that are left out.
        blockers: What may stand before a point, as trees of triangles.
    """
    return _missed(points, triangles, left_out, seen_either_way(points, triangles, left_out, blockers))


def _missed(points: np.ndarray, triangles: np.ndarray, hidden: np.ndarray, seen: np.ndarray) -> tuple[float, np.ndarray]:
    faces = hidden[seen]
    return float(triangle_areas(np.asarray(points, np.float64), triangles[faces]).sum()), faces
