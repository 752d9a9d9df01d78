"""A piece takes on every shape of the body: the skin's move and turn under it, spread smoothly to what is far from skin."""

from dataclasses import dataclass

import numpy as np

from ..bind.transfer import facing_out, inpaint, parted
from ..figure.base.body import Wearer
from ..mesh.islands import islands
from ..space.tree import TriangleTree
from .shape_kernels import turns

_NEAR, _ANGLE = 0.06, np.deg2rad(60.0)
_ARM = 0.05
"""An offset from the skin longer than this (metres) turns no farther than one of this length."""


@dataclass(frozen=True)
class Footing:
    """Where each vertex of a piece stands on the skin: `corners` (n, 3), barycentric `where` (n, 3), and whether that is `sure` (n,)."""

    corners: np.ndarray
    where: np.ndarray
    sure: np.ndarray
    offset: np.ndarray


def footing(points: np.ndarray, triangles: np.ndarray, wearer: Wearer, tree: TriangleTree | None = None) -> Footing:
    """Return where a piece (n, 3) stands on the wearer: the nearest skin that faces alike within 6 cm, else the nearest.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        wearer: The body in its shape, at rest.
        tree: The skin, as a tree of triangles.
    """
    p = np.asarray(points, np.float64)
    tree = tree or TriangleTree(wearer.points, wearer.body.triangles)
    normal, near = facing_out(p, triangles, tree)
    alike = tree.nearest(p, facing=normal, agree=float(np.cos(_ANGLE)), limit=np.minimum(_NEAR, 2.0 * near.distance + 0.015))
    sure = alike.triangle >= 0
    face = np.where(sure, alike.triangle, near.triangle)
    where = np.where(sure[:, None], alike.where, near.where)
    foot = np.where(sure[:, None], alike.point, near.point)
    return Footing(wearer.body.triangles[face], where, sure, p - foot)


def shape_moves(points: np.ndarray, triangles: np.ndarray, wearer: Wearer, at: Footing) -> tuple[np.ndarray, np.ndarray]:
    """Return the piece's moves `(s, n, 3) float32` with each shape at +1, and which vertices took theirs from the skin (n,).

    Under it the skin's own move, and its turn applied to how the piece stands off it; solved elsewhere (see `inpaint`). First order in
    the shape, so that shapes add up as a file's morphs do. Follows: Sumner & Popovic, Deformation transfer, 2004, in its linear part.
    """
    body, n = wearer.body, len(points)
    used, local = np.unique(at.corners, return_inverse=True)
    local = local.reshape(-1, 3)
    acting = np.flatnonzero(np.abs(body.deltas[:, used]).reshape(len(body.shapes), -1).max(axis=1, initial=0.0) > 1e-7)
    out = np.zeros((len(body.shapes), n, 3), np.float32)
    if not len(acting):
        return out, at.sure
    slot = np.full(len(body.base), -1)
    slot[used] = np.arange(len(used))
    spin = np.zeros((len(used), len(acting), 3))
    faces = np.flatnonzero((slot >= 0)[body.triangles].any(axis=1))
    moves = np.ascontiguousarray(body.deltas[acting])
    turns(np.ascontiguousarray(wearer.points, np.float64), body.triangles, faces, slot, moves, spin)
    corner = wearer.points[body.triangles[faces]].astype(np.float64)
    double = np.linalg.norm(np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]), axis=1)
    total = np.bincount(body.triangles[faces].ravel(), np.repeat(double, 3), len(body.base))[used]
    spin /= np.maximum(total, 1e-12)[:, None, None]
    size = np.linalg.norm(at.offset, axis=1, keepdims=True)
    arm = at.offset * np.minimum(1.0, _ARM / np.maximum(size, 1e-9))
    under = np.zeros((n, len(acting), 3))
    for k in range(3):
        under += at.where[:, k, None, None] * moves[:, at.corners[:, k]].transpose(1, 0, 2)
    turned = np.einsum("nk,nksa->nsa", at.where, spin[local])
    under += np.cross(turned, arm[:, None, :])
    p = np.asarray(points, np.float64)

    def crumple(a: np.ndarray, b: np.ndarray) -> np.ndarray:
        """Whether a shape brings two neighbours half their distance nearer or farther: a collar half on the neck, half on the jaw."""
        most = np.sqrt(((under[a] - under[b]) ** 2).sum(axis=2)).max(axis=1, initial=0.0)
        return most > 0.5 * np.linalg.norm(p[a] - p[b], axis=1) + 0.001

    _, label = islands(triangles, n)
    main = np.bincount(label)[label] > 0.2 * n  # a placket is too narrow to be solved by itself
    known = at.sure & ~(main & parted(p, triangles, at.sure, p - at.offset, crumple))
    spread = inpaint(points, triangles, known, under.reshape(n, -1)).reshape(n, len(acting), 3)
    out[acting] = spread.transpose(1, 0, 2)
    return out, known
