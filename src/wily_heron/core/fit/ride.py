"""A piece carried from one body to another whose surfaces correspond vertex by vertex."""

import numpy as np

from ..mesh.edges import unique_edges
from ..mesh.normals import vertex_normals
from ..mesh.ops.smooth_field import smooth_field, stiffness_of
from ..mesh.rigid_islands import best_rotation, stick_islands, stiff_islands
from ..space.tree import TriangleTree

_HANGS = 0.022
"""Cloth farther than this off the skin (metres) hangs."""


def ride(points: np.ndarray, triangles: np.ndarray, source: np.ndarray, target: np.ndarray, body_triangles: np.ndarray) -> np.ndarray:
    """Return the piece's points (n, 3) as they stand on `target` (b, 3) when they stood alike on `source` (b, 3).

    Near the skin a point keeps its offset, turned as the skin under it turns; parts far from it follow smoothly, and small islands
    ride rigidly. Distances to the skin stay what they were, in metres.
    """
    tree = TriangleTree(source, body_triangles)
    near = tree.nearest(points)
    normal, skin = vertex_normals(points, triangles), tree.normals_at(near)
    agree = np.sum(normal * skin, axis=1) * (1.0 if np.median(np.sum(normal * skin, axis=1)) >= 0 else -1.0)
    accepted = (near.distance < 0.06) & (agree > 0.3)
    corners = body_triangles[near.triangle]
    turns = _blended(skin_turns(source, target, body_triangles), corners, near.where)
    foot = np.einsum("nk,nka->na", near.where, np.asarray(target, np.float64)[corners])
    there = foot + np.einsum("nab,nb->na", turns, points - near.point)
    whole = _rigid(points[accepted], there[accepted], points)  # what all of it does is no part of what is spread
    hangs = np.exp(-((near.distance / _HANGS) ** 2))  # what hangs off the skin follows what rests on it rather than the relief under it
    trust = np.where(accepted, 20.0 * hangs + 1.0, np.exp(-((near.distance / 0.05) ** 2)) + 1e-4)  # far and turned-up parts, by and by
    out = whole + smooth_field(stiffness_of(points, triangles), trust, there - whole)
    return stick_islands(out, np.asarray(points, np.float64), triangles, stiff_islands(points, triangles))


def _rigid(a: np.ndarray, b: np.ndarray, points: np.ndarray) -> np.ndarray:
    """Return `points` moved by the rotation and translation that take `a` nearest to `b`."""
    if len(a) < 3:
        return np.array(points, np.float64)
    turn = best_rotation(a - a.mean(axis=0), b - b.mean(axis=0))
    return (points - a.mean(axis=0)) @ turn.T + b.mean(axis=0)


def skin_turns(source: np.ndarray, target: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return `(b, 3, 3)`: the rotation of the skin about each vertex between two places of one mesh, by its edges."""
    edges, _ = unique_edges(triangles)
    both = np.concatenate([edges, edges[:, ::-1]])
    a = np.asarray(source, np.float64)[both[:, 1]] - np.asarray(source, np.float64)[both[:, 0]]
    b = np.asarray(target, np.float64)[both[:, 1]] - np.asarray(target, np.float64)[both[:, 0]]
    smooth_field = np.zeros((len(source), 3, 3))
    np.add.at(smooth_field, both[:, 0], np.einsum("ea,eb->eab", a, b))
    na, nb = vertex_normals(source, triangles), vertex_normals(target, triangles)
    room = np.trace(smooth_field, axis1=1, axis2=2)[:, None, None]
    smooth_field += np.abs(room) * np.einsum("na,nb->nab", na, nb)  # flat rings say nothing across the skin; their normals do
    u, _, vt = np.linalg.svd(smooth_field)
    turn = np.einsum("nba,ncb->nac", vt, u)
    flip = np.sign(np.linalg.det(turn))
    vt[:, 2] *= flip[:, None]
    return np.einsum("nba,ncb->nac", vt, u)


def _blended(turns: np.ndarray, corners: np.ndarray, where: np.ndarray) -> np.ndarray:
    mixed = np.einsum("nk,nkab->nab", where, turns[corners])
    u, _, vt = np.linalg.svd(mixed)
    return u @ vt
