"""Cutting a mesh where a field over its vertices changes sign."""

from dataclasses import replace

import numpy as np

from ..mesh.edges import unique_edges
from ..mesh.mesh import Mesh

_NEAR_END = 0.08


def split(mesh: Mesh, field: np.ndarray, where: np.ndarray | None = None) -> tuple[Mesh, np.ndarray, np.ndarray]:
    """Return the mesh cut along the zero line of a field, the side of each triangle, and the rows of the vertices on the cut.

    Both sides get vertices of their own on the cut, so that they come apart; texture places are interpolated. A cut that would pass within
    8 % of an edge's end goes through the vertex, so that no slivers are left.

    Args:
        mesh: The mesh.
        field: (n,) float, its sign the side; a triangle's side (m',) is True where it is above.
        where: (m,) bool, the triangles that are cut: at its ends the cloth stays together, as at the end of a slit.
    """
    f = _snapped(mesh, np.asarray(field, np.float64).copy())
    triangles, sign = mesh.triangles, np.sign(f).astype(np.int8)
    corner = sign[triangles]
    crossed = (corner.min(axis=1) < 0) & (corner.max(axis=1) > 0)
    if where is not None:
        crossed &= where
    edges, face_edges = unique_edges(triangles)
    cut_edge = np.zeros(len(edges), bool)
    cut_edge[face_edges[crossed].ravel()] = True
    cut_edge &= sign[edges[:, 0]] * sign[edges[:, 1]] < 0
    ends = edges[cut_edge]
    t = f[ends[:, 0]] / (f[ends[:, 0]] - f[ends[:, 1]])
    born = mesh.points[ends[:, 0]] + t[:, None] * (mesh.points[ends[:, 1]] - mesh.points[ends[:, 0]])
    n = len(mesh.points)
    at_edge = np.full(len(edges), -1)
    at_edge[cut_edge] = n + np.arange(len(ends))
    rows, parents, shares = _pieces(triangles, sign, face_edges, at_edge, edges, f)
    points = np.vstack([mesh.points, born]).astype(np.float32)
    received = None
    if mesh.received is not None:
        received = np.concatenate([mesh.received, mesh.received[np.where(t < 0.5, ends[:, 0], ends[:, 1])]]).astype(np.int32)

    def corners(values: np.ndarray | None) -> np.ndarray | None:
        return None if values is None else np.einsum("tkc,tca->tka", shares, values[parents]).astype(values.dtype)

    fold = None if mesh.corner_fold is None else mesh.corner_fold[parents[:, None], np.argmax(shares, axis=2)]
    out = replace(
        mesh,
        points=points,
        triangles=rows.astype(np.int32),
        corner_uv=corners(mesh.corner_uv),
        corner_fold=fold,
        triangle_material=mesh.triangle_material[parents],
        polygon=mesh.polygon[parents],
        received=received,
    )
    f = np.concatenate([f, np.zeros(len(ends))])
    above = f[rows].sum(axis=1) > 0
    return _parted(out, f, above, np.ones(len(rows), bool) if where is None else where[parents])


def _snapped(mesh: Mesh, f: np.ndarray) -> np.ndarray:
    edges, _ = unique_edges(mesh.triangles)
    a, b = edges[:, 0], edges[:, 1]
    crossing = f[a] * f[b] < 0
    t = f[a] / np.where(crossing, f[a] - f[b], 1.0)
    f[a[crossing & (t < _NEAR_END)]] = 0.0
    f[b[crossing & (t > 1 - _NEAR_END)]] = 0.0
    return f


def _pieces(triangles, sign, face_edges, at_edge, edges, f):
    """The triangles after cutting: their rows, the triangle each came from, and each corner's shares (3, 3) in that one's corners."""
    eye = np.eye(3)
    rows, parents, shares = [], [], []
    cut = (at_edge[face_edges] >= 0).any(axis=1)
    keep = np.flatnonzero(~cut)
    rows.append(triangles[keep])
    parents.append(keep)
    shares.append(np.broadcast_to(eye, (len(keep), 3, 3)))
    more_rows, more_parents, more_shares = [], [], []
    for t in np.flatnonzero(cut):
        ring, share = [], []
        for k in range(3):
            v, w, e = triangles[t, k], triangles[t, (k + 1) % 3], at_edge[face_edges[t, k]]
            ring.append(int(v))
            share.append(eye[k])
            if e >= 0:
                s = f[v] / (f[v] - f[w])
                ring.append(int(e))
                share.append((1 - s) * eye[k] + s * eye[(k + 1) % 3])
        for part in _fans(ring, sign, len(sign)):
            more_rows.append([ring[i] for i in part])
            more_parents.append(t)
            more_shares.append([share[i] for i in part])
    if more_rows:
        rows.append(np.array(more_rows))
        parents.append(np.array(more_parents))
        shares.append(np.array(more_shares))
    return np.concatenate(rows), np.concatenate(parents), np.concatenate(shares)


def _fans(ring: list[int], sign: np.ndarray, n: int) -> list[tuple[int, int, int]]:
    """Triangles of a cut triangle's ring of 4 or 5 corners, none across the cut; new corners have indices from `n` on."""
    zero = [i for i, v in enumerate(ring) if v >= n or sign[v] == 0]
    if len(zero) < 2:
        new = next(i for i, v in enumerate(ring) if v >= n)  # an end of the cut: the new corner is joined to the one across
        return [(new, (new + k) % len(ring), (new + k + 1) % len(ring)) for k in range(1, len(ring) - 1)]
    a, b = zero[0], zero[1]
    one = [i % len(ring) for i in range(a, b + 1)]
    two = [i % len(ring) for i in range(b, a + len(ring) + 1)]
    return [(part[0], part[k], part[k + 1]) for part in (one, two) for k in range(1, len(part) - 1)]


def _parted(mesh: Mesh, f: np.ndarray, above: np.ndarray, near: np.ndarray) -> tuple[Mesh, np.ndarray, np.ndarray]:
    """Give the side above vertices of its own along the cut; `near` (m,) tells the triangles the cut may part.

    Where the cut stops inside the cloth, its last vertex stays whole.
    """
    n = len(mesh.points)
    edges, face_edges = unique_edges(mesh.triangles)
    seen = np.zeros((3, len(edges)), bool)
    seen[0, face_edges[above].ravel()] = True
    seen[1, face_edges[~above].ravel()] = True
    seen[2, face_edges[near].ravel()] = True
    cut = seen.all(axis=0) & (f[edges] == 0.0).all(axis=1)
    along = np.bincount(edges[cut].ravel(), minlength=n)
    border = np.zeros(n, bool)
    border[edges[np.bincount(face_edges.ravel(), minlength=len(edges)) == 1].ravel()] = True
    twin = np.flatnonzero((along >= 2) | ((along == 1) & border))
    place = np.arange(n)
    place[twin] = n + np.arange(len(twin))
    triangles = mesh.triangles.copy()
    triangles[above] = place[triangles[above]]
    received = None if mesh.received is None else np.concatenate([mesh.received, mesh.received[twin]])
    out = replace(mesh, points=np.vstack([mesh.points, mesh.points[twin]]), triangles=triangles.astype(np.int32), received=received)
    return out, above, np.concatenate([np.flatnonzero(along), n + np.arange(len(twin))])
