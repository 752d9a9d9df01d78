"""Angle-weighted pseudo-normals, which give the right sign everywhere round a closed mesh."""

from dataclasses import dataclass

import numpy as np

from ..mesh.normals import triangle_normals


@dataclass(frozen=True)
class PseudoNormals:
    """Normals of faces (m, 3), of each face's three edges (m, 3, 3; edge k runs from corner k to k + 1) and corners (n, 3)."""

    face: np.ndarray
    edge: np.ndarray
    vertex: np.ndarray
    triangles: np.ndarray

    def at(self, triangle: np.ndarray, where: np.ndarray, slack: float = 1e-7) -> np.ndarray:
        """Return the normal (q, 3) for points given by triangle (q,) and barycentric `where` (q, 3)."""
        t = np.maximum(triangle, 0)
        out = self.face[t].copy()
        zero = where < slack
        count = zero.sum(axis=1)
        on_edge = np.flatnonzero(count == 1)
        missing = np.argmax(zero[on_edge], axis=1)
        out[on_edge] = self.edge[t[on_edge], (missing + 1) % 3]
        on_vertex = np.flatnonzero(count >= 2)
        corner = np.argmax(where[on_vertex], axis=1)
        out[on_vertex] = self.vertex[self.triangles[t[on_vertex], corner]]
        return out


def pseudo_normals(points: np.ndarray, triangles: np.ndarray) -> PseudoNormals:
    """Return the pseudo-normals of a triangle mesh. Follows: Baerentzen & Aanaes 2005."""
    face = triangle_normals(points, triangles)
    corner = np.asarray(points, np.float64)[triangles]
    vertex = np.zeros((len(points), 3))
    for k in range(3):
        a = corner[:, (k + 1) % 3] - corner[:, k]
        b = corner[:, (k + 2) % 3] - corner[:, k]
        cosine = np.sum(a * b, axis=1) / np.maximum(np.linalg.norm(a, axis=1) * np.linalg.norm(b, axis=1), 1e-30)
        weighted = face * np.arccos(np.clip(cosine, -1, 1))[:, None]
        for axis in range(3):
            vertex[:, axis] += np.bincount(triangles[:, k], weighted[:, axis], minlength=len(points))
    sides = np.stack([triangles, np.roll(triangles, -1, axis=1)], axis=-1).reshape(-1, 2).astype(np.int64)
    keys = sides.min(axis=1) * (len(points) + 1) + sides.max(axis=1)
    unique, inverse = np.unique(keys, return_inverse=True)
    edge = np.zeros((len(unique), 3))
    for axis in range(3):
        edge[:, axis] = np.bincount(inverse.ravel(), np.repeat(face[:, axis], 3), minlength=len(unique))
    return PseudoNormals(face, edge[inverse].reshape(-1, 3, 3), vertex, triangles)
