"""How far points of an under-layer stand out through the layer over it, and which points of its faces are asked."""

from collections.abc import Callable

import numpy as np

from ..mesh.corners import any_corner
from ..space.tree import TriangleTree
from .cover import AGREE, UNDER, Cover
from .recall import Asking, Recall
from .samples import FINE, FINEST, SPLIT, inside, on_faces
from .stand_kernels import stand_kernel

_LEAST = 1e-4
"""Less than a tenth of a millimetre is not a poke-through."""
_CLOSELY = 160
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
                 near.point, near.distance, tree.triangles, tree.points, cover.border, cover.rest, cover.outward, AGREE, _LEAST, _STRAY,
                 UNDER, stand, gap)
    return stand, gap, np.maximum(near.triangle, 0)


def cut(under_tree: TriangleTree, over_tree: TriangleTree, cover: Cover, recall: Recall | None = None) -> np.ndarray:
    """Return which faces (t,) of the under-layer the over-layer goes through: edges of the one through faces of the other, both ways. What
    comes through between the corners of a face comes through there."""
    if recall:
        inner, outer = recall.crossings(under_tree, cover)
    else:
        inner, outer = over_tree.through(under_tree.points, cover.sides), under_tree.through(over_tree.points, cover.edges)
    through, out = np.zeros(len(cover.sides), bool), np.zeros(len(under_tree.triangles), bool)
    through[inner[:, 0]] = True
    out[outer[:, 1]] = True
    out[cover.whole[any_corner(through, cover.side_of)]] = True
    return out


def _shallowest(stand: np.ndarray, rim: np.ndarray) -> np.ndarray:
    """Which faces (t,) are looked at most closely, by how far their points (t, s) stand out: those at the `rim` (t,), the shallowest first,
    what shows of a fold shows there; and then those of which no point does."""
    deepest = stand.max(axis=1)
    first = np.argsort(np.where(deepest > 0, deepest, np.inf), kind="stable")
    out = np.zeros(len(rim), bool)
    out[first[rim[first]][:_CLOSELY]] = True
    return out


class Asked:
    """Points inside faces of an under-layer that stand out: of seven a face, of sixteen where the cloth comes through, of sixty-four at the
    rim of that."""

    def __init__(self, under: np.ndarray, triangles: np.ndarray, tree: TriangleTree, cover: Cover, recall: Recall | None) -> None:
        self.under, self.triangles, self.tree, self.cover, self._recall = under, triangles, tree, cover, recall
        self.faces: list[np.ndarray] = []
        self._out: list[tuple[np.ndarray, ...]] = []

    def whole(self, faces: np.ndarray, cut: np.ndarray) -> None:
        """Ask `faces` (t,), covered at all corners; those `cut` (m,), of all there are, more closely at once."""
        near = self._look("whole", faces[~cut[faces]], SPLIT, lambda stand: stand.max(axis=1) > 0)
        near = np.sort(np.concatenate([near, faces[cut[faces]]]))
        rim = self._look("fine", near, FINE, lambda stand: _shallowest(stand, cut[near]))
        self._look("finest", rim, FINEST, lambda stand: np.zeros(len(stand), bool))

    def part(self) -> None:
        """Ask the faces that are covered in part, where they are."""
        cover, stand = self.cover, np.zeros(len(FINE) * len(self.cover.part))
        points, facing = on_faces(self.under, self.triangles[cover.part], FINE)
        ask = np.flatnonzero(cover.part_covered)
        stand[ask] = stand_out(points[ask], facing[ask], cover.part_spot.reshape(-1, 3)[ask], self.tree, cover)[0]
        self._take(cover.part, points, facing, stand.reshape(-1, len(FINE)), np.ones(len(cover.part), bool))

    def out(self) -> tuple[np.ndarray, ...]:
        """Return the faces (t,) asked, and of each point that stands out its place (q, 3), facing, how far, its face among these, its share
        of that."""
        return np.concatenate(self.faces), *(np.concatenate(each) for each in zip(*self._out, strict=True))

    def _look(self, name: str, faces: np.ndarray, where: np.ndarray, closer: Callable[[np.ndarray], np.ndarray]) -> np.ndarray:
        """Ask `faces` (t,) at the places `where` (s, 3) and take what they tell, but for those that are to be looked at `closer`, by how
        far they stand out (t, s) each: return these."""
        corners = self.triangles[faces]  # where skin is creased, the normals of its corners lean far from those of its faces
        points, facing = on_faces(self.under, corners, where)
        stand, _, _ = stand_out(points, facing, inside(self.cover.spot[corners], where), self.tree, self.cover,
                                  self._asking(name, faces, len(where)))
        stand = stand.reshape(-1, len(where))
        again = closer(stand)
        self._take(faces, points, facing, stand, ~again)
        return faces[again]

    def _asking(self, name: str, faces: np.ndarray, each: int) -> Asking | None:
        return self._recall.asking(name, faces, self.triangles[faces], each) if self._recall else None

    def _take(self, faces: np.ndarray, points: np.ndarray, facing: np.ndarray, stand: np.ndarray, taken: np.ndarray) -> None:
        """Take what the points of the faces (t,) `taken` (t,) tell: those that stand out (t, s)."""
        each, begin = stand.shape[1], sum(len(f) for f in self.faces)
        out = np.flatnonzero((stand > 0) & taken[:, None])
        of = begin + (np.cumsum(taken) - 1)[out // each]
        self.faces.append(faces[taken])
        self._out.append((points[out], facing[out], stand.ravel()[out], of, np.full(len(out), 1.0 / each)))
