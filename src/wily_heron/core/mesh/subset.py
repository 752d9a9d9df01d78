"""Parts of a mesh: some of its triangles, some of its points."""

from dataclasses import replace

import numpy as np

from .mesh import Mesh


def with_triangles(mesh: Mesh, rows: np.ndarray) -> Mesh:
    """Return the mesh with the triangles in `rows` (indices or a mask) alone; its points stay."""
    return replace(mesh, triangles=mesh.triangles[rows], triangle_material=mesh.triangle_material[rows], polygon=mesh.polygon[rows],
                   corner_uv=None if mesh.corner_uv is None else mesh.corner_uv[rows])


def without_unused(mesh: Mesh) -> Mesh:
    """Return the mesh with only the points its triangles use, in their order."""
    used = np.zeros(len(mesh.points), bool)
    used[mesh.triangles.ravel()] = True
    place = np.cumsum(used) - 1
    return replace(mesh, points=mesh.points[used], triangles=place[mesh.triangles].astype(np.int32))


def merged(mesh: Mesh, onto: np.ndarray) -> Mesh:
    """Return the mesh with each point `i` replaced by point `onto[i]`; unused points are dropped."""
    return without_unused(replace(mesh, triangles=onto[mesh.triangles].astype(np.int32)))


def turned_over(mesh: Mesh, rows: np.ndarray) -> Mesh:
    """Return the mesh with the triangles in `rows` (mask) wound the other way."""
    triangles = mesh.triangles.copy()
    triangles[rows] = triangles[rows][:, ::-1]
    uv = mesh.corner_uv
    if uv is not None:
        uv = uv.copy()
        uv[rows] = uv[rows][:, ::-1]
    return replace(mesh, triangles=triangles, corner_uv=uv)
