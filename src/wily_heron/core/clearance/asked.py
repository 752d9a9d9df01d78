"""How far points of an under-layer stand out through the layer over it, and which points of its faces are asked."""

from collections.abc import Callable

import numpy as np

from ..mesh.normals import vertex_normals
from ..space.tree import TriangleTree
from .cover import AGREE, UNDER, Cover
from .recall import Asking, Recall
from .samples import FINE, FINEST, SPLIT, face_normals, inside
from .stand_kernels import dip_kernel, stand_kernel

_LEAST = 1e-4
"""Less than a tenth of a millimetre is not a poke-through."""
_THIN, _OF_USUAL = 0.002, 0.6
"""Where cloth lies nearer over a point than this (metres), or this share of what it mostly does, it may come through beside it, and is
looked at more closely; at half of that once more."""
_DIP, _LOW, _DEEP = 0.0005, 0.001, 0.02
"""Cloth comes nearer by so much (metres) beside what its bend over a face tells; a vertex of it no higher than the second is told of its
face, and no deeper than the third."""
_CLOSELY = 80
"""No more faces than this are asked at sixty-four points."""
_STRAY = 0.12
"""Only cloth that lay within this of a point at rest (metres) can be shown through by it: a hand on a skirt is no fault."""


def stand_out(points: np.ndarray, facing: np.ndarray, spot: np.ndarray, tree: TriangleTree, cover: Cover,
              asking: Asking | None = None) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return `(stand, gap, triangle)` of points (q, 3) with unit `facing` whose rest place on the over-layer is `spot` (q, 3).

    `stand` is metres above the over-layer (0 if not), `gap` metres under it (4 cm if it is not near), `triangle` the nearest.
    `asking` finds what is nearest, if it is not to be asked of the tree.
    """
    out = cover.outward * facing
    near = asking(points, out) if asking else tree.nearest(points, facing=out, agree=AGREE, limit=UNDER)
    stand, gap = np.empty(len(points)), np.empty(len(points))
    stand_kernel(np.asarray(points, np.float64), np.asarray(facing, np.float64), np.asarray(spot, np.float64), near.triangle, near.where,
                 near.point, near.distance, tree.triangles, tree.normals, cover.border, cover.rest, cover.outward, AGREE, _LEAST, _STRAY,
                 UNDER, stand, gap)
    return stand, gap, np.maximum(near.triangle, 0)


def may_show(under_tree: TriangleTree, over_tree: TriangleTree, cover: Cover, rows: np.ndarray, gap: np.ndarray,
             hit: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return which faces (t,) of the under-layer the cloth may come through between their corners, though it lies over these, and which a
    vertex of it lies under: the layer's vertices `rows` (r,) lie `gap` (r,) metres under the triangles `hit` (r,).

    Between two corners cloth comes nearer by so much as it bends inwards from the one to the other; where it is finer than the face, it
    is its own vertices that come nearer.
    """
    under_by, over_by = np.full(len(under_tree.points), np.inf), np.zeros(len(under_tree.points), np.int64)
    under_by[rows], over_by[rows] = gap, hit
    out = np.zeros(len(under_tree.triangles), bool)
    dip_kernel(under_tree.points, under_tree.triangles, over_tree.normals, cover.outward, under_by, over_by, cover.reach, _DIP, out)
    facing = cover.outward * vertex_normals(over_tree.points, over_tree.triangles)
    near = under_tree.nearest(over_tree.points, facing=facing, agree=AGREE, limit=_DEEP)
    at = np.maximum(near.triangle, 0)
    high = np.where(near.triangle >= 0, np.sum((over_tree.points - near.point) * under_tree.normals[at], axis=1), UNDER)
    out[at[high < _LOW]] = True
    cut = np.zeros(len(out), bool)
    cut[at[high < -_LEAST]] = True
    return out, cut


def thin(gap: np.ndarray) -> float:
    """Return how near (metres) cloth must lie over a point for the face about it to be looked at more closely, by what it does mostly."""
    near = gap[gap < UNDER]
    return min(_THIN, _OF_USUAL * float(np.median(near))) if len(near) else _THIN


def _shallowest(stand: np.ndarray, gap: np.ndarray, cut: np.ndarray, nearly: float) -> np.ndarray:
    """Which faces (t,) are looked at most closely, by what their points (t, s) tell: those that come through in part, or `nearly` (metres),
    or are `cut` (t,), the shallowest first; what shows of a fold shows at its rim."""
    deepest = stand.max(axis=1)
    part = ((deepest > 0) | (gap.min(axis=1) < nearly) | cut) & (stand.min(axis=1) <= 0)
    depth = np.where(part, np.where(deepest > 0, deepest, nearly), np.inf)
    part[np.argsort(depth, kind="stable")[_CLOSELY:]] = False
    return part


class Asked:
    """Points inside faces of an under-layer and how far each stands out: seven a face, sixteen where the cloth comes through or nearly,
    sixty-four at the rim of that."""

    def __init__(self, under: np.ndarray, triangles: np.ndarray, tree: TriangleTree, cover: Cover, recall: Recall | None) -> None:
        self.under, self.triangles, self.tree, self.cover, self._recall = under, triangles, tree, cover, recall
        self.faces: list[np.ndarray] = []
        self._parts: list[tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]] = []

    def whole(self, faces: np.ndarray, cut: np.ndarray, thin: float) -> None:
        """Ask `faces` (t,), covered at all corners; those `cut` (m,), of all there are, more closely at once, and those over which cloth is
        `thin` (metres)."""
        near = self._look("whole", faces[~cut[faces]], SPLIT, lambda stand, gap: (stand.max(axis=1) > 0) | (gap.min(axis=1) < thin))
        near = np.sort(np.concatenate([near, faces[cut[faces]]]))
        rim = self._look("fine", near, FINE, lambda stand, gap: _shallowest(stand, gap, cut[near], 0.5 * thin))
        self._look("finest", rim, FINEST, lambda stand, gap: np.zeros(len(stand), bool))

    def part(self) -> None:
        """Ask the faces that are covered in part, where they are."""
        cover, stand = self.cover, np.zeros(len(FINE) * len(self.cover.part))
        points, facing = self._points(cover.part, FINE)
        ask = np.flatnonzero(cover.part_covered)
        stand[ask] = stand_out(points[ask], facing[ask], cover.part_spot.reshape(-1, 3)[ask], self.tree, cover)[0]
        self._take(cover.part, points, facing, stand, np.full(len(points), 1.0 / len(FINE)))

    def all(self) -> tuple[np.ndarray, ...]:
        """Return the faces (t,), and of each point its place (q, 3), facing, how far it stands out, its face among these, its share."""
        points, facing, stand, share = (np.concatenate(x) for x in zip(*self._parts, strict=True))
        count = [np.repeat(np.arange(len(f)), len(p[0]) // len(f)) for f, p in zip(self.faces, self._parts, strict=True)]
        begin = np.cumsum([0, *(len(f) for f in self.faces[:-1])])
        return np.concatenate(self.faces), points, facing, stand, np.concatenate([c + b for c, b in zip(count, begin, strict=True)]), share

    def _look(self, name: str, faces: np.ndarray, where: np.ndarray, closer: Callable[[np.ndarray, np.ndarray], np.ndarray]) -> np.ndarray:
        """Ask `faces` (t,) at the places `where` (s, 3) and take what they tell, but for those that are to be looked at `closer`, by how
        far they stand out and lie under (t, s) each: return these."""
        points, facing = self._points(faces, where)
        stand, gap, _ = stand_out(points, facing, inside(self.cover.spot[self.triangles[faces]], where), self.tree, self.cover,
                                  self._asking(name, faces, len(where)))
        again = closer(stand.reshape(-1, len(where)), gap.reshape(-1, len(where)))
        keep = np.repeat(~again, len(where))
        self._take(faces[~again], points[keep], facing[keep], stand[keep], np.full(keep.sum(), 1.0 / len(where)))
        return faces[again]

    def _asking(self, name: str, faces: np.ndarray, each: int) -> Asking | None:
        return self._recall.asking(name, faces, self.triangles[faces], each) if self._recall else None

    def _points(self, faces: np.ndarray, where: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        corner = self.under[self.triangles[faces]]  # where skin is creased, the normals of its corners lean far from those of its faces
        return inside(corner, where), np.repeat(face_normals(corner), len(where), axis=0)

    def _take(self, faces: np.ndarray, *told: np.ndarray) -> None:
        if len(faces):
            self.faces.append(faces)
            self._parts.append(told)  # type: ignore[arg-type]
