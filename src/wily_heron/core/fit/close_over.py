"""Closing a piece over what lies under it: toes in a boot, fingers in a glove, and whatever else a fit leaves out at rest."""

from collections.abc import Sequence

import numpy as np

from ..clearance.cover.cover import AGREE, Cover, cover
from ..clearance.cover.rest_layer import RestLayer
from ..clearance.find.face_samples import stand_out
from ..clearance.find.find import find
from ..clearance.pair import CLEAN_AREA
from ..clearance.push import Between, push_out
from ..clearance.unfold import unfolded
from ..mesh.normals import triangle_areas, vertex_normals
from ..space.tree import Screen, TriangleTree
from ..space.tree_memo import tree_on

_PASSES = 8
_DEEP_SKIN, _DEEP = 0.030, 0.012
"""What is deeper out of skin, or of a layer, than this (metres) is no matter of closing: the piece is not where it is worn, or cloth is
bunched."""
_SLIVER = 5e-4
"""What lies under it stays at least this far from it (metres), by its vertices."""
_MIN_AREA = 1e-6
"""What shows of less than a hundredth of a cm2 (m2) is left to clearing."""


def closed_over(points: np.ndarray, triangles: np.ndarray, under: Sequence[TriangleTree], ease: float) -> np.ndarray:
    """Return a fitted piece's points (n, 3) moved out, smoothly, until nothing of the surfaces under it shows through it.

    A vertex of the piece may lie well off the skin on both sides of a toe that comes through between them; so what lies under is asked, not
    the piece. Each of at most eight passes moves no vertex farther than `push_out` does; the one after which least shows is kept, and
    moved less where it would run through itself, if nothing shows for that. What belongs under it is judged before the first pass, and
    again once nothing shows of that: to judge takes longer than a pass.
    """
    start = np.asarray(points, np.float64)
    p, best, least = start, start, np.inf
    covers, judged = _covers(p, triangles, under), True
    for _ in range(_PASSES):
        area, move = _shown(p, triangles, under, covers, ease)
        if area <= _MIN_AREA and not judged:
            covers, judged = _covers(p, triangles, under), True
            area, move = _shown(p, triangles, under, covers, ease)
        if area < least:
            best, least = p, area
        if area <= _MIN_AREA or not move.any():
            break
        p, judged = p + move, False
    covers = covers if best is p and judged else _covers(best, triangles, under)
    closed = _off_slivers(best, triangles, under, covers)
    apart = start + unfolded(start, closed - start, triangles)
    if np.array_equal(apart, closed) or _shown(apart, triangles, under, _covers(apart, triangles, under), ease)[0] <= CLEAN_AREA:
        return apart
    return closed


def _covers(p: np.ndarray, triangles: np.ndarray, under: Sequence[TriangleTree]) -> list[Cover]:
    """Return what of each surface belongs under a piece that lies at points (n, 3)."""
    over = RestLayer(p, triangles)
    return [cover(RestLayer(surface.points, surface.triangles), over) for surface in under]


def _shown(p: np.ndarray, triangles: np.ndarray, under: Sequence[TriangleTree], covers: Sequence[Cover],
           ease: float) -> tuple[float, np.ndarray]:
    """Return what shows (m2) of the surfaces under a piece at points (n, 3), the skin first, and the move (n, 3) that brings it out over
    that."""
    over = tree_on(p, triangles)
    screen, area, move = Screen([*under, over]), 0.0, np.zeros_like(p)
    for at, (surface, belongs) in enumerate(zip(under, covers, strict=True)):
        if belongs.empty:
            continue
        places = [place for place in find(surface, over, belongs, screen).places if place.depth < (_DEEP_SKIN if at == 0 else _DEEP)]
        area += sum(place.area for place in places)
        if places:
            shown = np.zeros(len(surface.points), bool)
            for place in places:
                shown[place.vertices] = True
            here = Between(surface.points, surface.triangles, p + move, triangles, belongs.wider, shown, places[0].depth)
            move = move + push_out(here, ease)
    return area, move


def _off_slivers(points: np.ndarray, triangles: np.ndarray, under: Sequence[TriangleTree], covers: Sequence[Cover]) -> np.ndarray:
    """Return the piece's points with the corners of faces lifted that a vertex under them all but touches, or is hardly out of."""
    p = np.array(points, np.float64)
    for surface, belongs in zip(under, covers, strict=True):
        rows = np.flatnonzero(belongs.covered)
        if not len(rows):
            continue
        normal = vertex_normals(surface.points, surface.triangles)[rows]
        for _ in range(3):
            over = tree_on(p, triangles)
            near = over.nearest(surface.points[rows], facing=belongs.outward * normal, agree=AGREE, limit=2 * _SLIVER)
            hit = np.maximum(near.triangle, 0)
            out = belongs.outward * np.sum((surface.points[rows] - near.point) * over.normals[hit], axis=1)
            low = np.flatnonzero((near.triangle >= 0) & (out > -_SLIVER))
            if not len(low):
                break
            lift = np.zeros(len(p))
            np.maximum.at(lift, triangles[hit[low]].ravel(), np.repeat(out[low] + _SLIVER, 3))
            p += belongs.outward * lift[:, None] * vertex_normals(p, triangles)
    return p


def exposed(points: np.ndarray, triangles: np.ndarray, skin: TriangleTree) -> float:
    """Return the area of skin (m2) that belongs under a piece (n, 3) and comes out through it, seen or not, by its vertices.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        skin: The skin, as a tree of triangles.
    """
    belongs = cover(RestLayer(skin.points, skin.triangles), RestLayer(points, triangles))
    rows = np.flatnonzero(belongs.covered)
    if not len(rows):
        return 0.0
    normal = vertex_normals(skin.points, skin.triangles)[rows]
    stand, *_ = stand_out(skin.points[rows], normal, belongs.spot[rows], tree_on(points, triangles), belongs)
    each = np.zeros(len(skin.points))
    for corner in skin.triangles.T:
        np.add.at(each, corner, triangle_areas(skin.points, skin.triangles) / 3.0)
    return float(each[rows[stand > 0]].sum())
