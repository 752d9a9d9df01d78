"""Angle-weighted pseudo-normals, which give the right sign everywhere round a closed mesh."""

from dataclasses import dataclass

import numpy as np
from numba import njit

from ..mesh.topology import topology_of


@dataclass(frozen=True)
class PseudoNormals:
    """Normals of faces (m, 3), edges (e, 3) and vertices (n, 3); `sides` (m, 3) are the edges of each face, the kth from corner k on."""

    face: np.ndarray
    edge: np.ndarray
    vertex: np.ndarray
    sides: np.ndarray
    triangles: np.ndarray

    def at(self, triangle: np.ndarray, where: np.ndarray, slack: float = 1e-7) -> np.ndarray:
        """Return the normal (q, 3) for points given by triangle (q,) and barycentric `where` (q, 3)."""
        t = np.maximum(triangle, 0)
        out = self.face[t]
        zero = where < slack
        count = zero[:, 0].astype(np.int8) + zero[:, 1] + zero[:, 2]
        on_edge = np.flatnonzero(count == 1)
        missing = np.argmax(zero[on_edge], axis=1)
        out[on_edge] = self.edge[self.sides[t[on_edge], (missing + 1) % 3]]
        on_vertex = np.flatnonzero(count >= 2)
        corner = np.argmax(where[on_vertex], axis=1)
        out[on_vertex] = self.vertex[self.triangles[t[on_vertex], corner]]
        return out


def pseudo_normals(points: np.ndarray, triangles: np.ndarray) -> PseudoNormals:
    """Return the pseudo-normals of triangles (m, 3) of points (n, 3). Follows: Baerentzen & Aanaes 2005.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.

    >>> import trimesh
    >>> box = trimesh.creation.box()
    >>> found = pseudo_normals(box.vertices, box.faces)
    >>> np.abs(found.vertex).round(2)[0]  # at a corner, each of its three sides by its right angle
    array([1.57, 1.57, 1.57])
    """
    sides = topology_of(triangles, len(points)).sides
    face, edge, vertex = np.zeros((len(triangles), 3)), np.zeros((int(sides.max(initial=-1)) + 1, 3)), np.zeros((len(points), 3))
    _fill(np.ascontiguousarray(points, np.float64), triangles, sides, face, edge, vertex)
    return PseudoNormals(face, edge, vertex, sides, triangles)


@njit(cache=True, nogil=True)
def _fill(points, triangles, sides, face, edge, vertex):
    for t in range(len(triangles)):
        a, b, c = points[triangles[t, 0]], points[triangles[t, 1]], points[triangles[t, 2]]
        ux, uy, uz = b[0] - a[0], b[1] - a[1], b[2] - a[2]
        vx, vy, vz = c[0] - a[0], c[1] - a[1], c[2] - a[2]
        wx, wy, wz = c[0] - b[0], c[1] - b[1], c[2] - b[2]
        nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        by = 1.0 / max(np.sqrt(nx * nx + ny * ny + nz * nz), 1e-30)
        nx, ny, nz = nx * by, ny * by, nz * by
        face[t, 0], face[t, 1], face[t, 2] = nx, ny, nz
        u, v, w = np.sqrt(ux * ux + uy * uy + uz * uz), np.sqrt(vx * vx + vy * vy + vz * vz), np.sqrt(wx * wx + wy * wy + wz * wz)
        at = ((ux * vx + uy * vy + uz * vz) / max(u * v, 1e-30), -(ux * wx + uy * wy + uz * wz) / max(u * w, 1e-30),
              (vx * wx + vy * wy + vz * wz) / max(v * w, 1e-30))
        for k in range(3):
            angle, i, e = np.arccos(min(max(at[k], -1.0), 1.0)), triangles[t, k], sides[t, k]
            vertex[i, 0] += angle * nx
            vertex[i, 1] += angle * ny
            vertex[i, 2] += angle * nz
            edge[e, 0] += nx
            edge[e, 1] += ny
            edge[e, 2] += nz
