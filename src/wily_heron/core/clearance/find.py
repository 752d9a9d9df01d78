"""Finding what shows through in one cell: an under-layer's surface on the outer side of the layer over it, and visible."""

from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import connected_components

from ..mesh.corners import any_corner, every_corner
from ..mesh.normals import vertex_normals
from ..space.tree import TriangleTree
from .cover import AGREE, UNDER, Cover

_LEAST = 1e-4
"""Less than a tenth of a millimetre is not a poke-through."""
_CLOSE = 0.002
"""Cloth nearer than this to a vertex (metres) may come through the faces beside it."""
_STRAY = 0.12
"""Only cloth that lay within this of a point at rest (metres) can be shown through by it: a hand on a skirt is no fault."""
PINCH = 0.003
"""Flesh (or cloth) that meets itself within this (metres) is pinched: no fault of what is worn over it."""
SPLIT = np.array([[4, 1, 1], [1, 4, 1], [1, 1, 4], [2, 2, 2], [3, 3, 0], [0, 3, 3], [3, 0, 3]]) / 6.0
_VIEWS = np.array([(x, y, z) for x in (-1, 0, 1) for y in (-1, 0, 1) for z in (-1, 0, 1) if (x, y, z) != (0, 0, 0)], float)
_VIEWS /= np.linalg.norm(_VIEWS, axis=1, keepdims=True)


@dataclass(frozen=True)
class Place:
    """A connected poke-through: `vertices` of the under-layer, `depth` (m), visible `area` (m2), `centre` (3,)."""

    vertices: np.ndarray
    depth: float
    area: float
    centre: np.ndarray


@dataclass(frozen=True)
class Found:
    """What one pair of layers shows in one cell.

    `places` deepest first; `depth` (n,) metres by which each under-layer vertex stands out (0 = it does not); `least` the
    smallest clearance in metres, negative when something shows through; `pinched` the area (m2) left out because the layer meets itself.
    """

    places: tuple[Place, ...]
    depth: np.ndarray
    least: float
    pinched: float = 0.0

    @property
    def area(self) -> float:
        """Visible poke-through in m2."""
        return float(sum(p.area for p in self.places))


def find(under: np.ndarray, under_triangles: np.ndarray, over_tree: TriangleTree, cover: Cover, blockers: list[TriangleTree]) -> Found:
    """Return what of `under` (n, 3), posed, shows through the over-layer (its tree refit to the cell).

    `blockers` are all layers of the cell: a point counts only if it sees out past them in some direction. Area is sampled at
    seven points a triangle. What counts follows the definition in docs/clearance.md.
    """
    normal = vertex_normals(under, under_triangles)
    rows = np.flatnonzero(cover.covered)
    stand, gap = stand_out(under[rows], normal[rows], cover.spot[rows], over_tree, cover)[:2]
    depth = np.zeros(len(under))
    depth[rows] = stand
    clear = gap[stand <= 0]
    least = float(clear.min()) if len(clear) else UNDER
    ring = np.zeros(len(under), bool)  # one ring on, so that a face pierced between its corners is sampled too
    ring[under_triangles[any_corner(depth > 0, under_triangles)]] = True
    close = np.zeros(len(under), bool)  # a coarse face may cut it between its corners, all of them in
    close[rows] = gap < _CLOSE
    touched = np.flatnonzero(any_corner(ring | close, under_triangles) & every_corner(cover.covered, under_triangles))
    if not len(touched):
        return Found((), depth, min(least, UNDER))
    corner, turn = under[under_triangles[touched]], normal[under_triangles[touched]]
    points = np.einsum("sk,tka->tsa", SPLIT, corner).reshape(-1, 3)
    facing = np.einsum("sk,tka->tsa", SPLIT, turn).reshape(-1, 3)
    facing /= np.maximum(np.linalg.norm(facing, axis=1, keepdims=True), 1e-12)
    spot = np.einsum("sk,tka->tsa", SPLIT, cover.spot[under_triangles[touched]]).reshape(-1, 3)
    stand, _, _ = stand_out(points, facing, spot, over_tree, cover)
    out = np.flatnonzero(stand > 0)
    pinched = _pinched(points[out], facing[out], under, under_triangles)
    folded, out = out[pinched], out[~pinched]
    seen = out[sees_out(points[out], facing[out], blockers)]
    shown = np.zeros(len(points))
    shown[seen] = stand[seen]
    per_triangle = shown.reshape(len(touched), len(SPLIT))
    size = 0.5 * np.linalg.norm(np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]), axis=1)
    area = size * (per_triangle > 0).mean(axis=1)
    left_out = float((size[folded // len(SPLIT)] / len(SPLIT)).sum())
    places = _places(under, under_triangles[touched], area, per_triangle.max(axis=1))
    visible = np.zeros(len(under), bool)
    visible[under_triangles[touched][area > 0]] = True
    depth[~visible] = 0.0
    if places:
        least = -places[0].depth
    return Found(places, depth, min(least, UNDER), left_out)


def stand_out(points: np.ndarray, facing: np.ndarray, spot: np.ndarray, tree: TriangleTree,
              cover: Cover) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return `(stand, gap, triangle)` of points (q, 3) with unit `facing` whose rest place on the over-layer is `spot` (q, 3).

    `stand` is metres above the over-layer (0 if not), `gap` metres under it (4 cm if it is not near), `triangle` the nearest.
    """
    near = tree.nearest(points, facing=cover.outward * facing, agree=AGREE, limit=UNDER)
    hit = np.maximum(near.triangle, 0)
    corner = tree.triangles[hit]
    away = points - near.point
    side = np.sum(away * tree.normals[hit], axis=1) * cover.outward
    rises = np.sum(away * facing, axis=1) > AGREE * near.distance  # past a fold or a hem the cloth lies before it, not behind
    room = np.sum(near.where * cover.border[corner], axis=1)
    stray = np.linalg.norm(np.einsum("qk,qka->qa", near.where, cover.rest[corner]) - spot, axis=1)
    there = (near.triangle >= 0) & (stray < _STRAY)
    stand = np.where(there & (side > 0) & rises & (room > 0) & (near.distance > _LEAST), near.distance, 0.0)
    return stand, np.where(there & (side <= 0), near.distance, UNDER), hit


def _pinched(points: np.ndarray, facing: np.ndarray, under: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return `(q,) bool`: the same layer lies within 3 mm before the point, so that there is no room for anything over it."""
    if not len(points):
        return np.zeros(0, bool)
    near = np.zeros(len(under), bool)
    low, high = points.min(axis=0) - PINCH, points.max(axis=0) + PINCH
    near[((under >= low) & (under <= high)).all(axis=1)] = True
    faces = triangles[any_corner(near, triangles)]
    if not len(faces):
        return np.zeros(len(points), bool)
    distance, _ = TriangleTree(under, faces).first_hits(points + 1e-5 * facing, facing, PINCH)
    return np.isfinite(distance)


def sees_out(points: np.ndarray, facing: np.ndarray, blockers: list[TriangleTree]) -> np.ndarray:
    """Return `(q,) bool`: a ray from the point escapes past every blocker in at least one of 26 directions."""
    seen = np.zeros(len(points), bool)
    for view in _VIEWS:
        ask = np.flatnonzero(~seen & (facing @ view > 0.15))
        if not len(ask):
            continue
        origin = points[ask] + 2e-4 * facing[ask]
        ray = np.broadcast_to(view, origin.shape)
        free = np.ones(len(ask), bool)
        for tree in blockers:
            rows = np.flatnonzero(free)
            distance, _ = tree.first_hits(origin[rows], ray[rows], 3.0)
            free[rows] = ~np.isfinite(distance)
        seen[ask[free]] = True
    return seen


def _places(points: np.ndarray, triangles: np.ndarray, area: np.ndarray, depth: np.ndarray) -> tuple[Place, ...]:
    shown = np.flatnonzero(area > 0)
    if not len(shown):
        return ()
    t = triangles[shown]
    used, local = np.unique(t, return_inverse=True)
    local = local.reshape(-1, 3)
    pairs = np.concatenate([local[:, :2], local[:, 1:]])
    graph = sparse.csr_matrix((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), shape=(len(used), len(used)))
    count, label = connected_components(graph, directed=False)
    of_triangle = label[local[:, 0]]
    out = []
    for place in range(count):
        rows = of_triangle == place
        weight = area[shown[rows]]
        centre = np.average(points[t[rows]].mean(axis=1), axis=0, weights=weight)
        out.append(Place(used[label == place], float(depth[shown[rows]].max()), float(weight.sum()), centre))
    return tuple(sorted(out, key=lambda p: -p.depth))
