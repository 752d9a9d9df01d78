"""What each vertex of a piece stands on while shapes change: the skin, or a piece worn under it there, whichever is next beneath it."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..figure.base.body import Wearer
from ..mesh.normals import vertex_normals
from ..model.state import Piece
from ..space.tree import TriangleTree
from .shapes import Footing

_ANGLE = float(np.cos(np.deg2rad(60.0)))


@dataclass(frozen=True)
class Ground:
    """Surfaces under a piece (u, 3), how each of their vertices moves with every shape (s, u, 3), and where each vertex of the piece stands
    on them: `corners` (n, 3), barycentric `where` (n, 3), and whether that is `sure` (n,)."""

    points: np.ndarray
    moves: np.ndarray
    corners: np.ndarray
    where: np.ndarray
    sure: np.ndarray


def ground_under(points: np.ndarray, triangles: np.ndarray, wearer: Wearer, at: Footing, layers: Sequence[Piece]) -> Ground:
    """Return the ground of a piece (n, 3) that stands `at` places of the skin, with `layers` worn under it, each at the wearer's shape.

    A vertex stands on the layer it lies nearest to, if that faces as it does and is nearer than its skin. Layers that carry no shapes yet
    stay where they are, and are left out.
    """
    p = np.asarray(points, np.float64)
    surfaces, moves = [wearer.points.astype(np.float64)], [wearer.body.deltas]
    corners, where, sure = at.corners.astype(np.int64), at.where.copy(), at.sure.copy()
    near = np.where(at.sure, np.linalg.norm(at.offset, axis=1), np.inf)
    normal = vertex_normals(p, triangles)
    begin = len(wearer.points)
    for layer in layers:
        if layer.deltas is None:
            continue
        rest = layer.at(wearer.shape).astype(np.float64)
        found = TriangleTree(rest, layer.mesh.triangles).nearest(p, facing=normal, agree=_ANGLE, limit=0.06)
        nearer = (found.triangle >= 0) & (found.distance < near)
        corners[nearer] = begin + layer.mesh.triangles[found.triangle[nearer]]
        where[nearer], near[nearer], sure[nearer] = found.where[nearer], found.distance[nearer], True
        surfaces.append(rest)
        moves.append(layer.deltas)
        begin += len(rest)
    used, local = np.unique(corners, return_inverse=True)
    owner = np.searchsorted(np.cumsum([len(s) for s in surfaces]), used, side="right")
    first = np.cumsum([0, *(len(s) for s in surfaces)])
    at_used = np.concatenate([s[used[owner == k] - first[k]] for k, s in enumerate(surfaces)])
    moved = np.concatenate([m[:, used[owner == k] - first[k]] for k, m in enumerate(moves)], axis=1)
    return Ground(at_used, moved, np.ascontiguousarray(local.reshape(-1, 3)), np.ascontiguousarray(where), sure)
