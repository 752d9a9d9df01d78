"""How far a piece stands off what lies under it: skin, and layers if it rests on them."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..mesh.normals import vertex_normals
from ..space.tree import TriangleTree

FAR, DEEP = 0.12, 0.05
"""A piece vertex farther than FAR over the skin or DEEP under it (metres) is left to its neighbours."""


@dataclass(frozen=True)
class Under:
    """What a piece rests on: the skin's tree, and the trees of layers over it, innermost first."""

    skin: TriangleTree
    layers: tuple[TriangleTree, ...] = ()

    @classmethod
    def of(cls, points: np.ndarray, triangles: np.ndarray, layers: Sequence[tuple[np.ndarray, np.ndarray]] = ()) -> "Under":
        """Return trees over the body's points (b, 3) and the layers' points and triangles."""
        return cls(TriangleTree(points, triangles), tuple(TriangleTree(p, t) for p, t in layers if len(t)))

    def with_layers(self, layers: Sequence[tuple[np.ndarray, np.ndarray]]) -> "Under":
        """Return the same skin with these layers over it, each its points and triangles."""
        return Under(self.skin, tuple(TriangleTree(p, t) for p, t in layers if len(t)))

    def clearance(self, points: np.ndarray, normals: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return the signed clearance (n,), the surface's unit normal there (n, 3) and whether it can be judged (n,).

        `normals` (n, 3) are the piece's, pointing away from the body. Of skin and layers the one with the least clearance counts.
        """
        clearance, normal, known = _over_skin(points, normals, self.skin)
        for layer in self.layers:
            near = layer.nearest(points, facing=normals, agree=0.3, limit=DEEP)
            there = near.triangle >= 0
            up = layer.normals[np.maximum(near.triangle, 0)]
            over = np.sum((points - near.point) * up, axis=1)
            square = np.abs(over) > 0.5 * near.distance  # not past the layer's border
            less = there & square & (over < clearance)
            clearance[less], normal[less], known[less] = over[less], up[less], True
        return clearance, normal, known


def turned_out(points: np.ndarray, triangles: np.ndarray, tree: TriangleTree) -> float:
    """Return how far the piece's normals agree with the skin under them, from -1 (inside out) to 1."""
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
    return clearance, skin, known


def _unit(v: np.ndarray) -> np.ndarray:
    return v / np.maximum(np.linalg.norm(v, axis=1, keepdims=True), 1e-12)
