"""Parts of a mesh: some of its triangles, some of its points."""

from dataclasses import replace

import numpy as np

from ..mesh import Mesh


def with_triangles(mesh: Mesh, rows: np.ndarray) -> Mesh:
    """Return the mesh with the triangles in `rows` (indices or a mask) alone; its points stay.

    Args:
        mesh: The mesh, in metres.
        rows: (r,) int, rows of triangles.

    >>> mesh = Mesh(np.zeros((4, 3), np.float32), np.array([[0, 1, 2], [1, 2, 3]], np.int32))
    >>> with_triangles(mesh, np.array([False, True])).triangles.tolist()
    [[1, 2, 3]]
    """
    return replace(mesh, triangles=mesh.triangles[rows], triangle_material=mesh.triangle_material[rows], polygon=mesh.polygon[rows],
                   corner_uv=None if mesh.corner_uv is None else mesh.corner_uv[rows],
                   corner_fold=None if mesh.corner_fold is None else mesh.corner_fold[rows])


def without_unused(mesh: Mesh) -> Mesh:
    """Return the mesh with only the points its triangles use, in their order.

    >>> mesh = Mesh(np.arange(12, dtype=np.float32).reshape(4, 3), np.array([[0, 1, 3]], np.int32))
    >>> without_unused(mesh).triangles.tolist()
    [[0, 1, 2]]
    """
    used = np.zeros(len(mesh.points), bool)
    used[mesh.triangles.ravel()] = True
    place = np.cumsum(used) - 1
    return replace(mesh, points=mesh.points[used], triangles=place[mesh.triangles].astype(np.int32),
                   received=None if mesh.received is None else mesh.received[used])


def merged(mesh: Mesh, onto: np.ndarray) -> Mesh:
    """Return the mesh with each point `i` replaced by point `onto[i]`; unused points are dropped.

    >>> mesh = Mesh(np.zeros((4, 3), np.float32), np.array([[0, 1, 2], [3, 2, 1]], np.int32))
    >>> merged(mesh, np.array([0, 1, 2, 0])).triangles.tolist()
    [[0, 1, 2], [0, 2, 1]]
    """
    return without_unused(replace(mesh, triangles=onto[mesh.triangles].astype(np.int32)))


def turned_over(mesh: Mesh, rows: np.ndarray) -> Mesh:
    """Return the mesh with the triangles in `rows` (mask) wound the other way; each keeps its first corner.

    Args:
        mesh: The mesh, in metres.
        rows: (r,) int, rows of triangles.

    >>> mesh = Mesh(np.zeros((3, 3), np.float32), np.array([[0, 1, 2]], np.int32))
    >>> turned_over(mesh, np.array([True])).triangles.tolist()
    [[0, 2, 1]]
    """
    def turned(corners: np.ndarray | None) -> np.ndarray | None:
        if corners is None:
            return None
        out = corners.copy()
        out[rows] = out[rows][:, [0, 2, 1]]
        return out

    triangles = turned(mesh.triangles)
    assert triangles is not None
    return replace(mesh, triangles=triangles, corner_uv=turned(mesh.corner_uv), corner_fold=turned(mesh.corner_fold))
