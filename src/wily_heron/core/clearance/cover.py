"""Which points of an under-layer belong under the over-layer, judged at rest; and how far cloth lies from its open border."""

from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import connected_components, dijkstra

from ..mesh.corners import any_corner, every_corner
from ..mesh.edges import unique_edges
from ..mesh.islands import islands
from ..mesh.normals import vertex_normals
from ..mesh.topology import Topology, topology_of
from ..space.tree import Nearest, TriangleTree
from ..space.tree_memo import tree_on
from .samples import FINE, on_faces

OUT, UNDER, BORDER = 0.15, 0.04, 0.03
AGREE = 0.2
LIMB = 0.008
"""Two sides of a layer at least so far apart (metres) are a limb's."""
EYELET = 0.06
"""A hole is an opening from so far round (metres)."""
WIDER = 0.01
"""What is pushed aside reaches so much (metres) nearer to open borders than what is told: a step there is a poke-through to the next."""


@dataclass(frozen=True)
class Cover:
    """`covered` (n,) under-layer vertices that belong under, each at `spot` (n, 3) of the over-layer's `rest` points (m, 3).

    Of the faces `part` (p,) that are covered in part, `part_covered` (p, 16) says which of their sample points are, at `part_spot`
    (p, 16, 3). `border` (m,) is the distance along the cloth to its open border less the margin asked for (3 cm, or half the part's
    width). `whole` (w,) are the faces covered at all corners, `sides` (e, 2) their edges, `side_of` (w, 3)
    which of these each has, and `edges` (f, 2) those of the over-layer. `outward` is +1 or -1: which side
    of the over-layer's faces is its outside. `wider` is the same with a centimetre less of a margin, as clearing wants it.
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
    outward: float
    wider: "Cover | None" = None

    @property
    def empty(self) -> bool:
        """Whether nothing of the under-layer belongs under the over-layer."""
        return not self.covered.any() and not self.part_covered.any()


def border_room(points: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return `(m,)` metres along the edges from the open border less min(3 cm, half the width of the part); inf if closed.

    Holes less than 6 cm round (an eyelet, an open tip) are no openings: what comes out of them shows through.
    """
    n = len(points)
    topology = topology_of(triangles, n)
    rim, edges = np.flatnonzero(topology.border & ~_eyelets(points, topology)), topology.edges
    if not len(rim):
        return np.full(n, np.inf)
    length = np.linalg.norm(points[edges[:, 0]] - points[edges[:, 1]], axis=1).astype(np.float64) + 1e-9
    graph = sparse.csr_matrix((np.r_[length, length], (np.r_[edges[:, 0], edges[:, 1]], np.r_[edges[:, 1], edges[:, 0]])), shape=(n, n))
    along = dijkstra(graph, indices=rim, min_only=True)
    count, label = islands(triangles, n)
    reach = np.zeros(count)
    finite = np.isfinite(along)
    np.maximum.at(reach, label[finite], along[finite])
    return np.where(finite, along - np.minimum(BORDER, 0.5 * reach[label]), np.inf)


def _eyelets(points: np.ndarray, topology: Topology) -> np.ndarray:
    """Return `(n,) bool`: the border vertices of holes that are less than 6 cm round, in parts that have a larger opening."""
    n = len(points)
    edges = topology.border_edges
    graph = sparse.csr_matrix((np.ones(len(edges)), (edges[:, 0], edges[:, 1])), shape=(n, n))
    _, loop = connected_components(graph, directed=False)
    round_ = np.bincount(loop[edges[:, 0]], np.linalg.norm(points[edges[:, 0]] - points[edges[:, 1]], axis=1), n)
    part = islands(topology.triangles, n)[1]
    widest = np.zeros(part.max(initial=0) + 1)
    np.maximum.at(widest, part[edges[:, 0]], round_[loop[edges[:, 0]]])
    return topology.border & (round_[loop] < EYELET) & (widest[part] >= EYELET)


def cover(under: np.ndarray, under_triangles: np.ndarray, over: np.ndarray, over_triangles: np.ndarray) -> Cover:
    """Return what of `under` (n, 3) belongs under `over` (m, 3) at rest.

    A vertex belongs under when a ray outwards meets the over-layer's inner side within 15 cm, or when the over-layer already
    lies under it within 4 cm, facing the same way. Rays that meet the last centimetres before an open border do not count.
    """
    tree = tree_on(over, over_triangles)
    normal = vertex_normals(under, under_triangles)
    room = np.minimum(border_room(over, over_triangles), 10.0)
    rows = np.flatnonzero(within_reach(under, over))
    near = tree.nearest(under[rows], limit=OUT)
    close, at = near.triangle >= 0, np.maximum(near.triangle, 0)
    agree = dot(tree.normals[at], normal[rows])
    outward = 1.0 if not close.any() or np.median(agree[close]) >= 0 else -1.0
    deep, spot = np.full(len(under), -np.inf), np.array(under, np.float64)
    own = tree_on(under, under_triangles)
    deep[rows], spot[rows] = _belongs(under[rows], normal[rows], near, tree, room, outward, own)
    some = [any_corner(deep > -slack, under_triangles) & ~every_corner(deep > -slack, under_triangles) for slack in (0.0, WIDER)]
    faces = np.flatnonzero(some[0] | some[1])
    points, facing = on_faces(under, under_triangles[faces], FINE)
    part_deep, part_spot = _belongs(points, facing, tree.nearest(points, limit=OUT), tree, room, outward, own)
    edges = topology_of(over_triangles, len(over)).edges

    def by(slack: float, mixed: np.ndarray, wider: Cover | None) -> Cover:
        whole, rows = np.flatnonzero(every_corner(deep > -slack, under_triangles)), mixed[faces]
        return Cover(deep > -slack, spot, faces[rows], (part_deep > -slack).reshape(-1, len(FINE))[rows],
                     part_spot.reshape(-1, len(FINE), 3)[rows], np.asarray(over, np.float64), room + slack, whole,
                     *unique_edges(under_triangles[whole]), edges, outward, wider)

    return by(0.0, some[0], by(WIDER, some[1], None))


def within_reach(under: np.ndarray, over: np.ndarray) -> np.ndarray:
    """Return `(n,) bool`: which points of `under` (n, 3) are near enough to the box about `over` (m, 3) to belong under it."""
    low, high = np.min(over, axis=0) - OUT, np.max(over, axis=0) + OUT
    return ((under >= low) & (under <= high)).all(axis=1)


def _belongs(points: np.ndarray, normal: np.ndarray, near: Nearest, tree: TriangleTree, room: np.ndarray, outward: float,
             own: TriangleTree) -> tuple[np.ndarray, np.ndarray]:
    """Return how far (q,) from an open border, less the margin, the cloth lies under which points (q, 3) with unit normals belong at rest
    (minus infinity where there is none), and their spots on it (q, 3); `room` (m,) tells the same of the cloth's vertices."""
    distance, hit = tree.first_hits(points + 1e-6 * normal, normal, OUT)
    met, at = np.maximum(hit, 0), np.maximum(near.triangle, 0)
    spot = points + np.where(hit >= 0, distance, 0.0)[:, None] * normal
    above = (hit >= 0) & (outward * dot(tree.normals[met], normal) > AGREE)
    far = dot(_where(spot, tree.points[tree.triangles[met]]), room[tree.triangles[met]])
    facing = tree.normals[at]
    behind = dot(points - near.point, facing) * outward > 0
    within = above & (distance < UNDER)  # of a part that runs through another, as the thumb of a mitten: it has not sunk into that
    sunk = (near.distance < UNDER) & behind & (outward * dot(facing, normal) > AGREE) & ~within
    sunk[sunk] = ~past_own(points[sunk], near.point[sunk] - points[sunk], own)
    sunk_far = dot(near.where, room[tree.triangles[at]])
    deep = np.maximum(np.where(above, far, -np.inf), np.where(sunk, sunk_far, -np.inf))
    return deep, np.where((above & (far > -WIDER))[:, None], spot, near.point)


def past_own(points: np.ndarray, back: np.ndarray, own: TriangleTree) -> np.ndarray:
    """Return `(q,) bool`: which points (q, 3) of an under-layer have its far side before what lies `back` (q, 3) from them: cloth beyond a
    wrist is not cloth that the wrist has come out of. What is thinner than 8 mm is the two sides of cloth."""
    size = np.sqrt(dot(back, back))
    way = back / np.maximum(size, 1e-12)[:, None]
    far, _ = own.first_hits(points + LIMB * way, way, UNDER)
    return far + LIMB < size - 2e-4


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
