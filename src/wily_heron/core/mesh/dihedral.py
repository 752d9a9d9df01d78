"""Dihedral angles of a mesh."""

import numpy as np

from .normals import triangle_normals


def dihedrals(points: np.ndarray, triangles: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the edges (e, 2) that two triangles share, and the angle (e,) in radians between the normals of the two (0: flat).

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.

    >>> fold = np.array([[0, 0, 0], [0, 1, 0], [-1, 0, 0], [0, 0, 1]], float)  # two triangles at a right angle
    >>> edges, angle = dihedrals(fold, np.array([[0, 1, 2], [1, 0, 3]]))
    >>> edges.tolist(), np.rad2deg(angle).round(6).tolist()
    ([[0, 1]], [90.0])
    """
    sides = np.sort(np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]]), axis=1)
    face = np.tile(np.arange(len(triangles)), 3)
    order = np.lexsort((sides[:, 1], sides[:, 0]))
    sides, face = sides[order], face[order]
    twice = np.flatnonzero((sides[1:] == sides[:-1]).all(axis=1))
    normal = triangle_normals(points, triangles)
    cosine = np.sum(normal[face[twice]] * normal[face[twice + 1]], axis=1)
    return sides[twice], np.arccos(np.clip(cosine, -1.0, 1.0))
