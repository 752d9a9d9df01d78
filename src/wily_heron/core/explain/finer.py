"""A bound piece made finer where it is too coarse to bend, all that it carries taken along."""

from dataclasses import replace

import numpy as np

from ..figure.base.skeleton import Skin
from ..mesh.mesh import Mesh
from ..model.state import Piece
from ..space.tree import TriangleTree
from ..work.solid import refined


def finer_over(over: Piece, faces: np.ndarray, under: TriangleTree) -> Piece:
    """Return a bound piece with `faces` halved twice and laid over `under`; weights, shapes and correctives are carried along."""
    mesh = over.mesh
    old = TriangleTree(mesh.points, mesh.triangles)
    for _ in range(2):
        middle = old.nearest(mesh.points[mesh.triangles].mean(axis=1)).triangle
        mesh = refined(mesh, faces[middle])
    foot = old.nearest(mesh.points)
    corner = over.mesh.triangles[foot.triangle]
    fresh = np.arange(len(mesh.points)) >= len(over.mesh.points)
    high, _ = under.signed_distance(over.mesh.points)
    want = np.sum(foot.where * high[corner], axis=1)
    have, near = under.signed_distance(mesh.points)
    lift = np.where(fresh & (want < 0.03) & (want > -0.03), np.maximum(want - have, 0.0), 0.0)
    points = mesh.points + (lift[:, None] * under.normals_at(near)).astype(np.float32)
    return carried_over(over, replace(mesh, points=points.astype(np.float32)), corner, foot.where)


def carried_over(piece: Piece, mesh: Mesh, corner: np.ndarray, where: np.ndarray) -> Piece:
    """Return `piece` on another mesh whose vertices lie at `where` (n, 3) of the old `corner` (n, 3) vertices."""
    skin = piece.skin
    assert skin is not None
    count = int(skin.joints.max()) + 1
    dense = np.zeros((len(piece.mesh.points), count), np.float32)
    np.add.at(dense, (np.arange(len(dense))[:, None], skin.joints), skin.weights)
    mixed = np.einsum("nk,nkj->nj", where, dense[corner])
    width = skin.joints.shape[1]
    best = np.argsort(-mixed, axis=1)[:, :width]
    weights = np.take_along_axis(mixed, best, axis=1)
    weights /= weights.sum(axis=1, keepdims=True)
    moved = lambda d: None if d is None else np.einsum("nk,snka->sna", where, d[:, corner]).astype(np.float32)  # noqa: E731
    return replace(piece, mesh=mesh, skin=Skin(best.astype(np.int32), weights.astype(np.float32)), deltas=moved(piece.deltas),
                   fixes=moved(piece.fixes), trouble=None, protect=None)
