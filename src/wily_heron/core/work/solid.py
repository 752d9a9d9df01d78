"""Cloth made thick, finer, smoother, or whole from one half."""

from dataclasses import replace
from typing import TypeVar

import numpy as np
from scipy import sparse

from ..errors import InputError
from ..figure.base.body import Wearer
from ..mesh.edges import adjacency, border_vertices, unique_edges
from ..mesh.mesh import Mesh
from ..mesh.normals import vertex_normals
from ..mesh.ops.subset import turned_over, with_triangles, without_unused
from ..space.tree import TriangleTree
from .split import split

V = TypeVar("V", np.ndarray, sparse.csr_matrix)
_BENDING = ("shoulder", "elbow", "radiocarpal", "hip", "knee", "talocrural", "vl3", "vc4")


def thickened(mesh: Mesh, thick: float) -> Mesh:
    """Return the mesh with a second side `thick` metres under it (against its normals) and its borders closed.

    Args:
        mesh: The mesh, in metres.
        thick: Metres.
    """
    return two_sided(mesh, mesh.points, mesh.points - thick * vertex_normals(mesh.points, mesh.triangles))[0]


def two_sided(mesh: Mesh, outer: np.ndarray, inner: np.ndarray) -> tuple[Mesh, np.ndarray]:
    """Return a mesh with its outside at `outer` (n, 3), its inside at `inner` after it, walls between their borders, square to both; and
    the face (m',) of the mesh that each of its faces came of.

    Args:
        mesh: The mesh, in metres.
        outer: (n, 3) float, metres.
        inner: (n, 3) float, metres.
    """
    n, m = len(mesh.points), len(mesh.triangles)
    back = turned_over(mesh, np.ones(m, bool))
    edges, face_edges = unique_edges(mesh.triangles)
    lone = np.bincount(face_edges.ravel(), minlength=len(edges)) == 1
    face, side = np.nonzero(lone[face_edges])
    a, b = mesh.triangles[face, side], mesh.triangles[face, (side + 1) % 3]
    walls = np.concatenate([np.stack([b, a, a + n], axis=1), np.stack([b, a + n, b + n], axis=1)])
    came = np.concatenate([np.arange(m), np.arange(m), face, face])
    uv = None
    if mesh.corner_uv is not None and back.corner_uv is not None:
        at, to = mesh.corner_uv[face, side], mesh.corner_uv[face, (side + 1) % 3]
        uv = np.concatenate([mesh.corner_uv, back.corner_uv, np.stack([to, at, at], 1), np.stack([to, at, to], 1)])
    own, other = (np.zeros((m, 3), np.uint8) if each.corner_fold is None else each.corner_fold for each in (mesh, back))
    top = int(mesh.polygon.max(initial=0)) + 1
    made = replace(
        mesh,
        points=np.vstack([outer, inner]).astype(np.float32),
        triangles=np.concatenate([mesh.triangles, back.triangles + n, walls]).astype(np.int32),
        corner_uv=uv,
        corner_fold=np.concatenate([own, other, np.full((len(walls), 3), 255, np.uint8)]),
        triangle_material=mesh.triangle_material[came],
        polygon=np.concatenate([mesh.polygon, mesh.polygon + top, 2 * top + np.tile(np.arange(len(face)), 2)]).astype(np.int32),
        received=None if mesh.received is None else np.tile(mesh.received, 2),
    )
    return made, came


def bends(mesh: Mesh, wearer: Wearer) -> np.ndarray:
    """Return (n,) how much the body under each vertex bends: 1 where the skin there is shared evenly about a great joint, 0 away.

    Args:
        mesh: The mesh, in metres.
        wearer: The body in its shape, at rest.
    """
    near = TriangleTree(wearer.points, wearer.body.triangles).nearest(mesh.points)
    joints = [j for j, name in enumerate(wearer.skeleton.names) if name.removeprefix("l_").removeprefix("r_") in _BENDING]
    at = wearer.skeleton.positions[joints]
    foot = near.point
    far = np.linalg.norm(foot[:, None] - at[None], axis=2).min(axis=1)
    return np.clip(1.5 - far / 0.09, 0.0, 1.0)


def refined(mesh: Mesh, chosen: np.ndarray) -> Mesh:
    """Return the mesh with the `chosen` (m,) triangles in four, those beside them split to match, new points on the curved surface.

    Follows: Boubekeur & Alexa, Phong tessellation, 2008 (half strength).

    Args:
        mesh: The mesh, in metres.
        chosen: (m,) bool, the triangles that are meant.
    """
    edges, face_edges = unique_edges(mesh.triangles)
    halved = np.zeros(len(edges), bool)
    halved[face_edges[chosen].ravel()] = True
    p, normal = mesh.points.astype(np.float64), vertex_normals(mesh.points, mesh.triangles)
    a, b = edges[halved, 0], edges[halved, 1]
    middle = (p[a] + p[b]) / 2
    lift = sum(-0.5 * np.sum((middle - p[v]) * normal[v], axis=1)[:, None] * normal[v] for v in (a, b))
    border = np.bincount(face_edges.ravel(), minlength=len(edges))[halved] == 1
    middle += np.where(border[:, None], 0.0, 0.5 * lift)
    place = np.full(len(edges), -1)
    place[halved] = len(p) + np.arange(len(middle))
    eye = np.eye(3)
    rows, parents, shares = [], [], []
    for t in range(len(mesh.triangles)):
        v, e = mesh.triangles[t], place[face_edges[t]]
        for part in _parts(e >= 0):
            rows.append([v[k] if k < 3 else e[k - 3] for k in part])
            shares.append([eye[k] if k < 3 else (eye[k - 3] + eye[(k - 2) % 3]) / 2 for k in part])
            parents.append(t)
    of, share = np.array(parents), np.array(shares)
    received = None if mesh.received is None else np.concatenate([mesh.received, mesh.received[a]]).astype(np.int32)
    return replace(
        mesh,
        points=np.vstack([p, middle]).astype(np.float32),
        triangles=np.array(rows, np.int32),
        corner_uv=None if mesh.corner_uv is None else np.einsum("tkc,tca->tka", share, mesh.corner_uv[of]).astype(np.float32),
        corner_fold=None if mesh.corner_fold is None else mesh.corner_fold[of[:, None], np.argmax(share, axis=2)],
        triangle_material=mesh.triangle_material[of],
        polygon=np.arange(len(of), dtype=np.int32),
        received=received,
    )


def _parts(cut: np.ndarray) -> list[tuple[int, int, int]]:
    """Triangles for a triangle some of whose sides are halved: corners 0..2, midpoints 3..5 (of sides 0-1, 1-2, 2-0)."""
    count = int(cut.sum())
    if count == 0:
        return [(0, 1, 2)]
    if count == 3:
        return [(0, 3, 5), (3, 1, 4), (5, 4, 2), (3, 4, 5)]
    if count == 1:
        k = int(np.argmax(cut))
        return [(k, 3 + k, (k + 2) % 3), (3 + k, (k + 1) % 3, (k + 2) % 3)]
    k = int(np.argmin(cut))  # the side that is whole
    a, b, c = k, (k + 1) % 3, (k + 2) % 3
    return [(a, b, 3 + b), (a, 3 + b, 3 + c), (3 + c, 3 + b, c)]


def smoothed(points: np.ndarray, triangles: np.ndarray, amount: float, still: np.ndarray) -> np.ndarray:
    """Return points (n, 3) evened out without shrinking, borders and `still` vertices kept.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        amount: How much, 0 to 1.
        still: (n,) bool, vertices that stay where they are.

    >>> points = np.array([[x, y, 0.3 * (x == y == 2)] for x in range(5) for y in range(5)], float)
    >>> at = np.arange(25).reshape(5, 5)
    >>> faces = np.array([f for a, b, c, d in zip(*(q.ravel() for q in (at[:-1, :-1], at[1:, :-1], at[1:, 1:], at[:-1, 1:])))
    ...                   for f in ((a, b, c), (a, c, d))])
    >>> bool(smoothed(points, faces, 1.0, np.zeros(25, bool))[12, 2] < 0.2)  # the bump goes
    True
    """
    return evened(np.asarray(points, np.float64), triangles, round(2 + 14 * amount), still)


def evened(values: V, triangles: np.ndarray, rounds: int, still: np.ndarray) -> V:
    """Return what each vertex has (n, ...) evened out with its neighbours' without shrinking, borders and `still` vertices kept.

    Follows: Taubin, Curve and surface smoothing without shrinkage, 1995.

    Args:
        values: (n, ...) float, what each vertex has.
        triangles: (m, 3) int32.
        rounds: How often it is done.
        still: (n,) bool, vertices that stay where they are.
    """
    n = len(still)
    near = adjacency(triangles, n)
    mean = sparse.diags(1.0 / np.maximum(np.asarray(near.sum(axis=1)).ravel(), 1.0)) @ near
    pull = sparse.diags((~still & ~border_vertices(triangles, n)).astype(float)) @ (mean - sparse.identity(n))
    for _ in range(rounds):
        for by in (0.5, -0.52):
            values = values + by * (pull @ values)
    return values


def mirrored_half(mesh: Mesh, left: bool) -> Mesh:
    """Return the mesh made of its left (x > 0) or right half and that half's mirror image, welded in the middle.

    Raises `InputError` when that half is empty.
    """
    x = mesh.points[:, 0].astype(np.float64) * (1.0 if left else -1.0)
    x = np.where(np.abs(x) < 1e-4, 0.0, x)
    parted, above, _ = split(mesh, x)
    half = without_unused(with_triangles(parted, above))
    if not len(half.triangles):
        raise InputError(what=f"there is nothing on its {'left' if left else 'right'}", where="mirroring", todo="Keep the other half.")
    points = half.points.copy()
    middle = np.abs(points[:, 0]) < 2e-4
    points[middle, 0] = 0.0
    n = len(points)
    twin = np.where(middle, np.arange(n), n + np.cumsum(~middle) - 1)
    other = turned_over(half, np.ones(len(half.triangles), bool))
    top = int(half.polygon.max(initial=0)) + 1

    def twice(a: np.ndarray | None, b: np.ndarray | None) -> np.ndarray | None:
        return None if a is None or b is None else np.concatenate([a, b])

    return replace(
        half,
        points=np.vstack([points, points[~middle] * [-1, 1, 1]]).astype(np.float32),
        triangles=np.concatenate([half.triangles, twin[other.triangles]]).astype(np.int32),
        corner_uv=twice(half.corner_uv, other.corner_uv),
        corner_fold=twice(half.corner_fold, other.corner_fold),
        triangle_material=np.tile(half.triangle_material, 2),
        polygon=np.concatenate([half.polygon, half.polygon + top]),
        received=None if half.received is None else np.concatenate([half.received, half.received[~middle]]),
    )
