"""How far a piece stands off what lies under it: skin, and layers if it rests on them."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..mesh.normals import vertex_normals
from .tree import TriangleTree

FAR, DEEP = 0.12, 0.05
"""A piece vertex farther than FAR over the skin or DEEP under it (metres) is left to its neighbours."""

_OPPOSED = -0.5
"""Skin that turns by less than 60 degrees is one fold, not two skins."""


@dataclass(frozen=True)
class Under:
    """What a piece rests on: the skin's tree, and the trees of layers over it, innermost first; `limbs` are rows of the piece for which
    only part of the skin counts, each with the tree of that part."""

    skin: TriangleTree
    layers: tuple[TriangleTree, ...] = ()
    limbs: tuple[tuple[np.ndarray, TriangleTree], ...] = ()

    @classmethod
    def of(cls, points: np.ndarray, triangles: np.ndarray, layers: Sequence[tuple[np.ndarray, np.ndarray]] = ()) -> "Under":
        """Return trees over the body's points (b, 3) and the layers' points and triangles."""
        return cls(TriangleTree(points, triangles), tuple(TriangleTree(p, t) for p, t in layers if len(t)))

    def with_layers(self, layers: Sequence[tuple[np.ndarray, np.ndarray]]) -> "Under":
        """Return the same skin with these layers over it, each its points and triangles."""
        return Under(self.skin, tuple(TriangleTree(p, t) for p, t in layers if len(t)))

    def for_rows(self, rows: np.ndarray) -> "Under":
        """Return the same for some rows (k,) of the piece alone."""
        at = {int(v): k for k, v in enumerate(rows)}
        limbs = ((np.array([at[int(v)] for v in mine if int(v) in at], int), part) for mine, part in self.limbs)
        return Under(self.skin, self.layers, tuple((mine, part) for mine, part in limbs if len(mine)))

    def clearance(self, points: np.ndarray, normals: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return the signed clearance (n,), the surface's unit normal there (n, 3) and whether it can be judged (n,).

        `normals` (n, 3) are the piece's, pointing away from the body. Of skin and layers the one with the least clearance counts.
        """
        clearance, normal, known, _ = _over_skin(points, normals, self.skin)
        for rows, part in self.limbs:
            over, up, there, square = _over_skin(points[rows], normals[rows], part)
            on = rows[there & square]  # not past the part's border
            clearance[on], normal[on], known[on] = over[there & square], up[there & square], True
        for layer in self.layers:
            near = layer.nearest(points, facing=normals, agree=0.3, limit=DEEP)
            there = near.triangle >= 0
            up = layer.normals[np.maximum(near.triangle, 0)]
            over = np.sum((points - near.point) * up, axis=1)
            square = np.abs(over) > 0.5 * near.distance  # not past the layer's border
            less = there & square & (over < clearance)
            clearance[less], normal[less], known[less] = over[less], up[less], True
        return clearance, normal, known


    def room(self, points: np.ndarray, clearance: np.ndarray, normal: np.ndarray, most: np.ndarray) -> np.ndarray:
        """Return how far (n,) the skin `clearance` (n,) under each point may be lifted along `normal` (n, 3), at most `most` (n,), before
        it meets the skin it faces, lifted as far: the radius of the largest ball on it that the body leaves free.

        Follows: Ma, Bae & Choi, 3D medial axis point approximation using nearest neighbors and the normal field, 2012.
        """
        foot, room, go = points - clearance[:, None] * normal, most.copy(), np.arange(len(points))
        for _ in range(5):
            ball = foot[go] + room[go, None] * normal[go]
            near = self.skin.nearest(ball, facing=-normal[go], agree=_OPPOSED, limit=0.97 * room[go])
            to = near.point - foot[go]
            along = np.sum(to * normal[go], axis=1)
            met = (near.triangle >= 0) & (along > 1e-6)
            go = go[met]
            if len(go) == 0:
                break
            room[go] = np.minimum(room[go], np.sum(to[met] ** 2, axis=1) / (2.0 * along[met]))
        return room


def turned_out(points: np.ndarray, triangles: np.ndarray, tree: TriangleTree) -> float:
    """Return how far the piece's normals agree with the skin under them, from -1 (inside out) to 1.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        tree: The skin, as a tree of triangles.

    >>> import trimesh
    >>> ball = trimesh.creation.icosphere(subdivisions=2, radius=0.1)
    >>> from .tree import TriangleTree
    >>> skin = TriangleTree(ball.vertices, ball.faces)
    >>> round(turned_out(ball.vertices * 1.1, ball.faces, skin), 1), round(turned_out(ball.vertices * 1.1, ball.faces[:, ::-1], skin), 1)
    (1.0, -1.0)
    """
    near = tree.nearest(points)
    return float(np.median(np.sum(vertex_normals(points, triangles) * tree.normals[near.triangle], axis=1)))


def _over_skin(points: np.ndarray, normals: np.ndarray, tree: TriangleTree):
    """Outside the body the nearest skin counts. Inside, it is the nearest skin that faces as the cloth does, so that a sunk vertex
    comes out on its own side; where that lies much farther than the nearest skin, the cloth is turned back there and stays unjudged.
    """
    near = tree.nearest(points, limit=FAR)
    known = near.triangle >= 0
    skin = _unit(tree.normals_at(near))
    inside = np.sum((points - near.point) * skin, axis=1) < 0
    clearance = np.where(known, near.distance, FAR)
    sunk = np.flatnonzero(known & inside)
    facing = tree.nearest(points[sunk], facing=normals[sunk], agree=0.1, limit=DEEP)
    own = (facing.triangle >= 0) & (facing.distance < 3.0 * near.distance[sunk] + 0.015)
    clearance[sunk] = -facing.distance
    skin[sunk] = _unit(tree.normals_at(facing))
    known[sunk[~own]] = False
    clearance[sunk[~own]] = FAR
    foot = near.point
    foot[sunk] = facing.point
    square = np.abs(np.sum((points - foot) * skin, axis=1)) > 0.7 * np.abs(clearance)
    return clearance, skin, known, square


def _unit(v: np.ndarray) -> np.ndarray:
    return v / np.maximum(np.linalg.norm(v, axis=1, keepdims=True), 1e-12)
