"""How far points of an under-layer stand out through the layer over it, and which points of its faces are asked."""

from collections.abc import Callable

import numpy as np

from ...mesh.corners import any_corner, either_end
from ...mesh.normals import triangle_areas
from ...space.tree import Nearest, TriangleTree
from ..cover.cover import AGREE, FREE, LIMB, OUT, UNDER, Cover, dot, past_own
from ..cover.rest_grid import STRAY
from ..cover.rest_layer import BORDER
from ..cover.samples import FINE, FINEST, SPLIT, inside, on_faces
from .incremental import Asking, Recall
from .protrusion_kernels import stand_kernel

_MIN_DEPTH = 1e-4
"""Less than a tenth of a millimetre is not a poke-through."""
_THROUGH = 4
"""Past so many sheets of the over-layer a point's own cloth is looked for: a sleeve may hang within the side of its coat."""
_SMALL = 8e-6
"""A face of less than so much (m2) is asked at seven points alone: each stands for hardly more than one of sixty-four of a large one."""
_CLOSELY = 160
"""No more faces than this are asked at sixty-four points."""


def stand_out(points: np.ndarray, facing: np.ndarray, spot: np.ndarray, tree: TriangleTree, cover: Cover,
              asking: Asking | None = None) -> tuple[np.ndarray, np.ndarray, np.ndarray, Nearest]:
    """Return `(stand, gap, room, near)` of points (q, 3) with unit `facing` whose rest place on the over-layer is `spot` (q, 3).

    `stand` is metres above the over-layer (0 if not), `gap` metres under it (4 cm if it is not near), `room` metres from
    its open border to the nearest of it, less the margin, `near` that.
    `asking` finds what is nearest, if it is not to be asked of the tree.
    """
    out = cover.outward * facing
    near = asking(points, out) if asking else tree.nearest(points, facing=out, agree=AGREE, limit=UNDER)
    stand, gap, room = (np.empty(len(points)) for _ in range(3))
    stand_kernel(np.asarray(points, np.float64), np.asarray(facing, np.float64), np.asarray(spot, np.float64), near.triangle, near.where,
                 near.point, near.distance, tree.triangles, tree.points, cover.border, cover.rest, cover.outward, AGREE, _MIN_DEPTH, STRAY,
                 UNDER, stand, gap, room)
    return stand, gap, room, near


def still_under(points: np.ndarray, facing: np.ndarray, stand: np.ndarray, spot: np.ndarray, tree: TriangleTree, cover: Cover,
                own: TriangleTree) -> np.ndarray:
    """Return `(q,) bool`: which points (q, 3) that `stand` out of cloth are not out of it all the same: those under cloth that lay by their
    `spot` at rest (where parts of a piece run through one another, as the thumb of a mitten through its side, what is in the one is outside
    the other), those before cloth on the far side of a limb of their `own` layer, and those beside a strap."""
    out, ask = np.zeros(len(points), bool), np.flatnonzero(stand > 0)
    rows, start = ask, np.full(len(ask), 1e-6)
    for _ in range(_THROUGH):
        far, hit = tree.first_hits(points[rows] + start[:, None] * facing[rows], facing[rows], OUT)
        met = np.maximum(hit, 0)
        inner = (hit >= 0) & (cover.outward * dot(tree.normals[met], facing[rows]) > AGREE)
        off = cover.rest[tree.triangles[met]].mean(axis=1) - spot[rows]
        own_cloth = inner & (dot(off, off) < BORDER**2)
        out[rows[own_cloth]] = True
        on = (hit >= 0) & ~own_cloth
        rows, start = rows[on], start[on] + far[on] + 1e-6
    deep = ask[stand[ask] > LIMB]
    out[deep] |= past_own(points[deep], -stand[deep, None] * facing[deep], own)
    if (cover.border >= FREE).any():
        left = ask[~out[ask]]
        out[left] = _beside(points[left], facing[left], tree, cover)
    return out


def _beside(points: np.ndarray, facing: np.ndarray, tree: TriangleTree, cover: Cover) -> np.ndarray:
    """Return `(q,) bool`: which points (q, 3) stand beside a closed part, such as a strap, and not over it: nothing of the piece lies
    straight below them. It has no open border to tell where it ends."""
    out = tree.first_hits(points, -facing, UNDER)[1] < 0
    near = tree.nearest(points[out], facing=cover.outward * facing[out], agree=AGREE, limit=UNDER)
    out[out] = cover.border[tree.triangles[np.maximum(near.triangle, 0), 0]] >= FREE
    return out


def cut(under_tree: TriangleTree, over_tree: TriangleTree, cover: Cover, beneath: np.ndarray, recall: Recall | None = None,
        active: np.ndarray | None = None) -> np.ndarray:
    """Return which faces (t,) of the under-layer the over-layer goes through: edges of the one through faces of the other, both ways. What
    comes through between the corners of a face comes through there. Only faces with a corner among the vertices `active` (n,) are asked.

    An edge whose ends both lie `beneath` (n,) the over-layer can only go through it and back, through a fold: edges of that tell it.
    """
    through, out = np.zeros(len(cover.sides), bool), np.zeros(len(under_tree.triangles), bool)
    in_reach = either_end(~beneath, cover.sides)
    if active is None and recall:
        inner, outer = recall.crossings(under_tree, cover)
        through[inner[:, 0]], out[outer[:, 1]] = True, True
        through &= in_reach
    else:
        sides, edges = np.flatnonzero(in_reach if active is None else in_reach & either_end(active, cover.sides)), cover.edges
        if active is not None:
            edges = edges[either_end(cover.grid.near(np.flatnonzero(active & cover.covered)), edges)]
        through[sides[over_tree.through(under_tree.points, cover.sides[sides])[:, 0]]] = True
        pierced = under_tree.through(over_tree.points, edges)[:, 1]
        out[pierced if active is None else pierced[any_corner(active, under_tree.triangles[pierced])]] = True
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

    def __init__(self, own: TriangleTree, tree: TriangleTree, cover: Cover, recall: Recall | None) -> None:
        self.own, self.under, self.triangles = own, own.points, own.triangles
        self.tree, self.cover, self._recall = tree, cover, recall
        self.faces: list[np.ndarray] = []
        self._out: list[tuple[np.ndarray, ...]] = []

    def whole(self, faces: np.ndarray, cut: np.ndarray) -> None:
        """Ask `faces` (t,), covered at all corners; those `cut` (m,), of all there are, more closely at once."""
        small = triangle_areas(self.under, self.triangles[faces]) < _SMALL
        seven = small | ~cut[faces]
        near = self._look("whole", faces[seven], SPLIT, lambda stand: (stand > 0).any(axis=1) & ~small[seven])
        near = np.sort(np.concatenate([near, faces[~seven]]))
        rim = self._look("fine", near, FINE, lambda stand: _shallowest(stand, cut[near]))
        self._look("finest", rim, FINEST, lambda stand: np.zeros(len(stand), bool))

    def part(self, here: np.ndarray) -> None:
        """Ask some of the faces that are covered in part, where they are: those `here` (k,) among them."""
        cover = self.cover
        faces, spots = cover.part[here], cover.part_spot[here].reshape(-1, 3)
        points, facing = on_faces(self.under, self.triangles[faces], FINE)
        ask, stand = np.flatnonzero(cover.part_covered[here]), np.zeros(len(points))
        stand[ask] = stand_out(points[ask], facing[ask], spots[ask], self.tree, cover)[0]
        self._take(faces, points, facing, stand.reshape(-1, len(FINE)), spots, np.ones(len(faces), bool))

    @property
    def found(self) -> bool:
        """Whether any point stands out."""
        return any(len(points) for points, *_ in self._out)

    def out(self) -> tuple[np.ndarray, ...]:
        """Return the faces (t,) asked, and of each point that stands out its place (q, 3), facing, how far, its face among these, its share
        of that."""
        points, facing, stand, of, share, spot = (np.concatenate(each) for each in zip(*self._out, strict=True))
        out = ~still_under(points, facing, stand, spot, self.tree, self.cover, self.own)
        return np.concatenate(self.faces), points[out], facing[out], stand[out], of[out], share[out]

    def _look(self, name: str, faces: np.ndarray, where: np.ndarray, closer: Callable[[np.ndarray], np.ndarray]) -> np.ndarray:
        """Ask `faces` (t,) at the places `where` (s, 3) and take what they tell, but for those that are to be looked at `closer`, by how
        far they stand out (t, s) each: return these."""
        corners = self.triangles.take(faces, 0)  # where skin is creased, the normals of its corners lean far from those of its faces
        points, facing = on_faces(self.under, corners, where)
        spots = inside(self.cover.spot[corners], where)
        stand, *_ = stand_out(points, facing, spots, self.tree, self.cover, self._asking(name, faces, len(where)))
        stand = stand.reshape(-1, len(where))
        again = closer(stand)
        self._take(faces, points, facing, stand, spots, ~again)
        return faces[again]

    def _asking(self, name: str, faces: np.ndarray, each: int) -> Asking | None:
        return self._recall.asking(name, faces, self.triangles[faces], each) if self._recall else None

    def _take(self, faces: np.ndarray, points: np.ndarray, facing: np.ndarray, stand: np.ndarray, spots: np.ndarray,
              taken: np.ndarray) -> None:
        """Take what the points of the faces (t,) `taken` (t,) tell: those that stand out (t, s)."""
        each, begin = stand.shape[1], sum(len(f) for f in self.faces)
        out = np.flatnonzero((stand > 0) & taken[:, None])
        of = begin + (np.cumsum(taken) - 1)[out // each]
        self.faces.append(faces[taken])
        share = np.full(len(out), 1.0 / each)
        self._out.append((points.take(out, 0), facing.take(out, 0), stand.ravel()[out], of, share, spots.take(out, 0)))
