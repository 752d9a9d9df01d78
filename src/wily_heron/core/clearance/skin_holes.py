"""Holes: skin that was left out and can be missed from some side."""

import numpy as np

from ..figure.body import Body
from ..mesh.normals import triangle_normals
from ..space.tree import TriangleTree
from .find import sees_out

_INSET = np.array([[4, 1, 1], [1, 4, 1], [1, 1, 4]]) / 6.0


def seen_faces(points: np.ndarray, triangles: np.ndarray, faces: np.ndarray, blockers: list[TriangleTree]) -> np.ndarray:
    """Return `(f,) bool`: which of `faces` can be seen past the blockers from somewhere."""
    corner, normal = np.asarray(points, np.float64)[triangles[faces]], triangle_normals(points, triangles[faces])
    seen = np.zeros(len(faces), bool)
    for where in _INSET:
        ask = np.flatnonzero(~seen)
        seen[ask] = sees_out(np.einsum("k,tka->ta", where, corner[ask]), normal[ask], blockers)
    return seen


def holes(points: np.ndarray, body: Body, hidden: np.ndarray, blockers: list[TriangleTree]) -> tuple[float, np.ndarray]:
    """Return the area (m2) of hidden faces that can be seen on the posed body (n, 3), and which faces they are."""
    faces = hidden[seen_faces(points, body.triangles, hidden, blockers)]
    corner = np.asarray(points, np.float64)[body.triangles[faces]]
    area = 0.5 * np.linalg.norm(np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]), axis=1).sum()
    return float(area), faces
