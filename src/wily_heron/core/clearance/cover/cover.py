"""Which points of an under-layer belong under the over-layer, judged at rest; and how far cloth lies from its open border."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ...mesh.boxes import box_about, in_box
from ...mesh.corners import any_corner, either_end, every_corner
from ...mesh.edges import unique_edges
from ...mesh.topology import topology_of
from ...space.tree import Nearest, TriangleTree
from .rest_grid import RestGrid
from .rest_layer import RestLayer
from .samples import FINE, on_faces

OUT, UNDER = 0.15, 0.04
AGREE = 0.2
LIMB = 0.008
"""Two sides of a layer at least so far apart (metres) are a limb's."""
FREE = 10.0
"""What has no open border lies so far from it (metres)."""
_SOME = 1500
"""About so many vertices are asked which side of the over-layer is its outside."""
WIDER = 0.01
"""What is pushed aside reaches so much (metres) nearer to open borders than what is told: a step there is a poke-through to the next."""


@dataclass(frozen=True)
class Cover:
    """`covered` (n,) under-layer vertices that belong under, each at `spot` (n, 3) of the over-layer's `rest` points (m, 3).

    Of the faces `part` (p,) that are covered in part, `part_covered` (p, 16) says which of their sample points are, at `part_spot`
    (p, 16, 3). `border` (m,) is the distance along the cloth to its open border less the margin asked for (3 cm, or half the part's
    width). `whole` (w,) are the faces covered at all corners, `sides` (e, 2) their edges, `side_of` (w, 3)
    which of these each has, and `edges` (f, 2) those of the over-layer that lay near at rest. `faces` (k,) are those covered at any
    corner, `corners` (k, 3) theirs. `grid` tells what lay near which spot. `outward` is +1 or -1: which side of the over-layer's faces is
    its outside. It is `made` of how deep all lies, with so much `slack` of the margin (metres).
    """

    covered: np.ndarray
    spot: np.ndarray
    part: np.ndarray
    part_covered: np.ndarray
    part_spot: np.ndarray
    rest: np.ndarray
    border: np.ndarray
    whole: np.ndarray
    sides: np.ndarray
    side_of: np.ndarray
    edges: np.ndarray
    faces: np.ndarray
    corners: np.ndarray
    grid: RestGrid
    outward: float
    made: "_Belonging"
    slack: float

    @cached_property
    def wider(self) -> "Cover":
        """The same with a centimetre less of a margin, as clearing wants it."""
        return self if self.slack else self.made.cover(WIDER)

    @property
    def empty(self) -> bool:
        """Whether nothing of the under-layer belongs under the over-layer."""
        return not self.covered.any() and not self.part_covered.any()


def cover(under: RestLayer, over: RestLayer) -> Cover:
    """Return what of one layer belongs under another at rest.

    A vertex belongs under when a ray outwards meets the over-layer's inner side within 15 cm, or when the over-layer already lies under it
    within 4 cm, facing the same way. Rays that meet the last centimetres before an open border do not count.
    """
    points, faces, normal = under.points, under.triangles, under.normals
    tree, own, room = over.tree, under.tree, np.minimum(over.room, FREE)
    rows = np.flatnonzero(within_reach(points, over.points))
    some = rows[:: max(1, len(rows) // _SOME)]
    outward = _outside(points[some], normal[some], tree, room)
    near = _nearest(points[rows], normal[rows], tree, room, outward)
    deep, spot = np.full(len(points), -np.inf), np.array(points, np.float64)
    deep[rows], spot[rows] = _belongs(points[rows], normal[rows], near, tree, room, outward, own)
    mixed = np.zeros(len(faces), bool)
    for slack in (0.0, WIDER):
        mixed |= any_corner(deep > -slack, faces) & ~every_corner(deep > -slack, faces)
    mixed = np.flatnonzero(mixed)
    inside, facing = on_faces(points, faces[mixed], FINE)
    part_deep, part_spot = _belongs(inside, facing, _nearest(inside, facing, tree, room, outward), tree, room, outward, own)
    each = len(FINE)
    return _Belonging(faces, deep, spot, mixed, part_deep.reshape(-1, each), part_spot.reshape(-1, each, 3),
                      np.asarray(over.points, np.float64), topology_of(over.triangles, len(over.points)).edges, room, outward).cover(0.0)


def _outside(points: np.ndarray, normal: np.ndarray, tree: TriangleTree, room: np.ndarray) -> float:
    """Return which side of an over-layer's faces is its outside, as most of the points (q, 3) with unit normals say that lie near it: +1
    where these turn as its faces do, -1 where they are turned to them, as to the back of a strap. Points outside a closed part that turn as
    it does lie over the strap's front."""
    near = tree.nearest(points, limit=OUT)
    close, at = near.triangle >= 0, np.maximum(near.triangle, 0)
    agree = dot(tree.normals[at], normal)
    before = _closed(tree, room, at) & (dot(points - near.point, tree.normals[at]) > 0)
    votes = np.where(before, -np.abs(agree), agree)[close]
    return 1.0 if not len(votes) or np.median(votes) >= 0 else -1.0


def _nearest(points: np.ndarray, normal: np.ndarray, tree: TriangleTree, room: np.ndarray, outward: float) -> Nearest:
    """Return the nearest of an over-layer to each point (q, 3); of a closed part, such as a strap, the nearest on its side that turns as
    the point's unit normal does: what has come out through a strap is nearer to its front than to its back."""
    near = tree.nearest(points, limit=UNDER)
    at = np.maximum(near.triangle, 0)
    other = np.flatnonzero((near.triangle >= 0) & _closed(tree, room, at) & (outward * dot(tree.normals[at], normal) <= AGREE))
    if len(other):
        again = tree.nearest(points[other], facing=outward * normal[other], agree=AGREE, limit=UNDER)
        for mine, found in ((near.triangle, again.triangle), (near.where, again.where), (near.point, again.point),
                            (near.distance, again.distance)):
            mine[other] = found
    return near


def _closed(tree: TriangleTree, room: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return `(q,) bool`: which triangles are of parts without an open border, by the `room` (m,) of the vertices."""
    return room[tree.triangles[triangles, 0]] >= FREE


@dataclass(frozen=True)
class _Belonging:
    """How deep each of an under-layer's vertices (n,) and of the points (p, 16) of its `mixed` faces lies beneath an over-layer, in metres
    past the margin of its open border, minus infinity where it does not; their spots; and the over-layer at `rest`."""

    triangles: np.ndarray
    deep: np.ndarray
    spot: np.ndarray
    mixed: np.ndarray
    part_deep: np.ndarray
    part_spot: np.ndarray
    rest: np.ndarray
    edges: np.ndarray
    room: np.ndarray
    outward: float

    def cover(self, slack: float) -> Cover:
        """Return what is covered with so much less of a margin (metres)."""
        covered = self.deep > -slack
        every = every_corner(covered, self.triangles)
        whole, some = np.flatnonzero(every), np.flatnonzero(any_corner(covered, self.triangles))
        rows = (any_corner(covered, self.triangles) & ~every)[self.mixed]
        part_covered, part_spots = self.part_deep[rows] > -slack, self.part_spot[rows]
        grid = RestGrid.of(np.concatenate([self.spot, part_spots[part_covered]]), self.rest)
        near = grid.near(np.append(np.flatnonzero(covered), np.arange(len(self.spot), len(grid.spots))))
        return Cover(covered, self.spot, self.mixed[rows], part_covered, part_spots, self.rest, self.room + slack, whole,
                     *unique_edges(self.triangles[whole]), self.edges[either_end(near, self.edges)], some, self.triangles[some], grid,
                     self.outward, self, slack)


def within_reach(under: np.ndarray, over: np.ndarray) -> np.ndarray:
    """Return `(n,) bool`: which points of `under` (n, 3) are near enough to the box about `over` (m, 3) to belong under it."""
    return in_box(under, box_about(over) + np.array([[-OUT], [OUT]]))


def _belongs(points: np.ndarray, normal: np.ndarray, near: Nearest, tree: TriangleTree, room: np.ndarray, outward: float,
             own: TriangleTree) -> tuple[np.ndarray, np.ndarray]:
    """Return how far (q,) from an open border, less the margin, the cloth lies under which points (q, 3) with unit normals belong at rest
    (minus infinity where there is none), and their spots on it (q, 3); `room` (m,) tells the same of the cloth's vertices."""
    deep, spots = np.full(len(points), -np.inf), np.array(points, np.float64)
    distance, hit = tree.first_hits(points + 1e-6 * normal, normal, OUT)
    here = np.flatnonzero((hit >= 0) | (near.distance < UNDER))
    points, normal, distance, hit = points[here], normal[here], distance[here], hit[here]
    near = Nearest(near.triangle[here], near.where[here], near.point[here], near.distance[here])
    met, at = np.maximum(hit, 0), np.maximum(near.triangle, 0)
    spot = points + np.where(hit >= 0, distance, 0.0)[:, None] * normal
    above = (hit >= 0) & (outward * dot(tree.normals[met], normal) > AGREE)
    far = dot(_where(spot, tree.points[tree.triangles[met]]), room[tree.triangles[met]])
    facing = tree.normals[at]
    behind = dot(points - near.point, facing) * outward > 0
    within = above & (distance < UNDER)  # of a part that runs through another, as the thumb of a mitten: it has not sunk into that
    sunk = (near.distance < UNDER) & behind & (outward * dot(facing, normal) > AGREE) & ~within
    sunk[sunk] = ~past_own(points[sunk], near.point[sunk] - points[sunk], own, 0.5)
    sunk_far = dot(near.where, room[tree.triangles[at]])
    deep[here] = np.maximum(np.where(above, far, -np.inf), np.where(sunk, sunk_far, -np.inf))
    spot = np.where((above & (far > -WIDER))[:, None], spot, near.point)
    spots[here] = np.where(np.isfinite(deep[here])[:, None], spot, points)
    return deep, spots


def past_own(points: np.ndarray, back: np.ndarray, own: TriangleTree, share: float = 1.0) -> np.ndarray:
    """Return `(q,) bool`: which points (q, 3) of an under-layer have its far side, or so great a `share` of the way there, before what lies
    `back` (q, 3) from them: cloth beyond a wrist is not cloth that the wrist has come out of. What is thinner than 8 mm is the two sides of
    cloth."""
    size = np.sqrt(dot(back, back))
    way = back / np.maximum(size, 1e-12)[:, None]
    far, _ = own.first_hits(points + LIMB * way, way, UNDER / share)
    return share * (far + LIMB) < size - 2e-4


def _where(points: np.ndarray, corner: np.ndarray) -> np.ndarray:
    """Return the barycentric places (q, 3) of points (q, 3) of the planes of triangles (q, 3, 3)."""
    u, v, p = corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0], points - corner[:, 0]
    uu, uv, vv, pu, pv = (dot(a, b) for a, b in ((u, u), (u, v), (v, v), (p, u), (p, v)))
    size = np.maximum(uu * vv - uv * uv, 1e-30)
    b, c = (vv * pu - uv * pv) / size, (uu * pv - uv * pu) / size
    return np.stack([1 - b - c, b, c], axis=1)


def dot(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    """Return the products (q,) of the rows of two arrays (q, 3), quicker than a sum along an axis of three."""
    return a[:, 0] * b[:, 0] + a[:, 1] * b[:, 1] + a[:, 2] * b[:, 2]
