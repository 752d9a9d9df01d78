"""Sharp folds: corners of one point that do not share a normal, kept as small numbers on the corners."""

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import connected_components

from ..edges import unique_edges
from ..mesh import Mesh
from ..normals import triangle_normals, vertex_normals


def corner_folds(triangles: np.ndarray, normals: np.ndarray) -> np.ndarray | None:
    """Return `(m, 3) uint8`: corners of a point whose given `normals` (m, 3, 3) agree have the same number; None if all do."""
    at = triangles.ravel().astype(np.int64)
    facing = np.round(normals.reshape(-1, 3).astype(np.float64) * 500).astype(np.int64) + 512
    return _numbered(at, (facing[:, 0] << 22) | (facing[:, 1] << 11) | facing[:, 2])


def _numbered(at: np.ndarray, key: np.ndarray) -> np.ndarray | None:
    """Return `(m, 3) uint8` numbers of corners, from 0 at each point `at` (3 m,), the same where `key` (3 m,) is; None if all are 0."""
    order = np.lexsort((key, at))
    new_point = np.diff(at[order], prepend=-1) != 0
    new_facing = (np.diff(key[order], prepend=-1) != 0) & ~new_point
    if not new_facing.any():
        return None
    steps = np.cumsum(new_facing)
    start = np.maximum.accumulate(np.where(new_point, steps, 0))
    out = np.empty(len(at), np.uint8)
    out[order] = np.minimum(steps - start, 255)
    return out.reshape(-1, 3)


def corner_normals(mesh: Mesh) -> tuple[np.ndarray, np.ndarray]:
    """Return unit normals `(k, 3) float32` and which of them each corner has `(m, 3)`: one a point, or one for each side of a fold."""
    if mesh.corner_fold is None:
        normals, at = vertex_normals(mesh.points, mesh.triangles), mesh.triangles
    else:
        key = mesh.triangles.astype(np.int64) * 256 + mesh.corner_fold
        _, first, at = np.unique(key, return_index=True, return_inverse=True)
        at = at.reshape(-1, 3)
        normals = vertex_normals(mesh.points[mesh.triangles.ravel()[first]], at.astype(np.int32))
    normals[np.linalg.norm(normals, axis=1) < 0.5] = [0.0, 1.0, 0.0]
    return normals.astype(np.float32), at


def split_corners(mesh: Mesh) -> tuple[np.ndarray, np.ndarray, np.ndarray | None, np.ndarray]:
    """Return what formats with one index for all want: corners `(m, 3)` into split points, the point of each, its texture place
    (v, 2) or None, and its normal (v, 3)."""
    normals, at = corner_normals(mesh)
    if mesh.corner_uv is None and mesh.corner_fold is None:
        return mesh.triangles, np.arange(len(mesh.points)), None, normals
    keys = [mesh.triangles.reshape(-1, 1).astype(np.int64), at.reshape(-1, 1).astype(np.int64)]
    if mesh.corner_uv is not None:
        keys.append(np.round(mesh.corner_uv.reshape(-1, 2).astype(np.float64) * 1e6).astype(np.int64))
    _, first, inverse = np.unique(np.concatenate(keys, axis=1), axis=0, return_index=True, return_inverse=True)
    uv = None if mesh.corner_uv is None else mesh.corner_uv.reshape(-1, 2)[first]
    return inverse.reshape(-1, 3), mesh.triangles.ravel()[first], uv, normals[at.ravel()[first]]


def sharp_folds(points: np.ndarray, triangles: np.ndarray, angle: float) -> np.ndarray | None:
    """Return `(m, 3) uint8`: corners of a point whose faces join over edges that turn by no more than `angle` (radians) have the same
    number; None if all do.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        angle: Edges that turn by more are folds, radians.

    >>> roof = np.array([[0.0, 0, 0], [0, 0, 1], [1, -1, 0], [-1, -1, 0]])
    >>> faces = np.array([[0, 1, 2], [1, 0, 3]])
    >>> sharp_folds(roof, faces, np.deg2rad(60)) is None, sharp_folds(roof, faces, np.deg2rad(120)) is None
    (False, True)
    """
    edges, sides = unique_edges(triangles)
    order = np.argsort(sides.ravel(), kind="stable")
    key = sides.ravel()[order]
    twice = np.flatnonzero((key[1:] == key[:-1]) & (np.bincount(key, minlength=len(edges))[key[1:]] == 2))
    one, two = order[twice], order[twice + 1]
    normal = triangle_normals(points, triangles)
    bent = np.sum(normal[one // 3] * normal[two // 3], axis=1) < np.cos(angle)
    one, two = one[~bent], two[~bent]
    flat = triangles.ravel()
    nodes, links = [], []
    for end in range(2):  # a corner and the one across the edge that is the same point
        a = one // 3 * 3 + (one % 3 + end) % 3
        other = two // 3 * 3
        b = np.where(flat[other + two % 3] == flat[a], other + two % 3, other + (two % 3 + 1) % 3)
        nodes.append(a)
        links.append(b)
    a, b = np.concatenate(nodes), np.concatenate(links)
    _, group = connected_components(sparse.coo_matrix((np.ones(len(a)), (a, b)), shape=(len(flat), len(flat))), directed=False)
    return _numbered(flat.astype(np.int64), group.astype(np.int64))
