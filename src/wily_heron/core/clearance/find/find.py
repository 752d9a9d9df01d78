"""Finding what shows through in one cell: an under-layer's surface on the outer side of the layer over it, and visible."""

from dataclasses import dataclass, field

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import connected_components

from ...mesh.corners import any_corner
from ...mesh.normals import triangle_areas, vertex_normals
from ...space.tree import Screen, TriangleTree
from ..cover.cover import UNDER, Cover
from ..cover.samples import FINEST, some_of_each
from .face_samples import Asked
from .incremental import Recall
from .protrusion import Standing, standing
from .shots import GLANCE
from .view_directions import OTHERS, PLAIN, SIDES, USUAL

PINCH = 0.003
"""Flesh (or cloth) that meets itself within this (metres) is pinched: no fault of what is worn over it."""
_EYE_DISTANCE = 3.0
"""A point is looked at from so far (metres)."""
_RIM, _EACH, _DOUBT = 200, 1, 800
"""So many points at the rim of what stands out are looked at from all sides: what shows of a fold shows there; and so many of each face
that stands out, the shallowest, and as many of its others, so many in all."""
_FIRST = 1
"""Of so many points of each face, and as many of its others, it is asked first whether they are seen from the plainest sides."""
_SPREAD = 12
"""So often what lies beside what is seen is looked at."""

@dataclass(frozen=True)
class Place:
    """A connected poke-through: `vertices` of the under-layer, `depth` (m), visible `area` (m2), `centre` (3,)."""

    vertices: np.ndarray
    depth: float
    area: float
    centre: np.ndarray


@dataclass(frozen=True)
class Seen:
    """The points that show through: where (q, 3), unit facing, the area each stands for (m2), the place it belongs to, a side (of those
    looked from) from which it is seen, and the face of the under-layer it lies on."""

    points: np.ndarray
    facing: np.ndarray
    area: np.ndarray
    place: np.ndarray
    side: np.ndarray
    face: np.ndarray

    def best_view(self, place: int) -> np.ndarray:
        """Return the way (3,) along which most of a place is known to be seen."""
        mine = self.place == place
        return SIDES[np.argmax(np.bincount(self.side[mine], self.area[mine]))]


_NONE = Seen(np.zeros((0, 3)), np.zeros((0, 3)), np.zeros(0), *(np.zeros(0, np.int64) for _ in range(3)))


@dataclass(frozen=True)
class Found:
    """What one pair of layers shows in one cell.

    `places` deepest first; `depth` (n,) metres by which each under-layer vertex stands out (0 = it does not); `least` the
    smallest clearance in metres, negative when something shows through; `pinched` the area (m2) left out because the layer meets itself;
    `nearest` (k,) the vertices where the clearance is least.
    """

    places: tuple[Place, ...]
    depth: np.ndarray
    least: float
    pinched: float = 0.0
    seen: Seen = _NONE
    nearest: np.ndarray = field(default_factory=lambda: np.zeros(0, np.int64))

    @property
    def area(self) -> float:
        """Visible poke-through in m2."""
        return float(sum(p.area for p in self.places))


def find(under_tree: TriangleTree, over_tree: TriangleTree, cover: Cover, screen: Screen, recall: Recall | None = None,
         glance: bool = False, known: Standing | None = None, exposed: np.ndarray | None = None) -> Found:
    """Return what of an under-layer shows through the layer over it, in the cell in which their trees stand.

    Area is sampled at seven points a triangle, sixteen where cloth comes through, sixty-four at the rim of it. What counts follows the
    definition in docs/clearance.md.

    Args:
        under_tree: The layer that belongs under.
        over_tree: The layer over it.
        cover: What of the one belongs under the other, found at rest.
        screen: All layers of the cell: a point counts only if it sees out past them in some direction.
        recall: What was found last; only what has moved since is asked again.
        glance: Faces that could be seen from no side then are not looked at from all sides again.
        known: How the vertices stand, if that has been asked.
        exposed: (n,) bool, vertices past all other layers; faces without one are not looked into.
    """
    under, under_triangles = under_tree.points, under_tree.triangles
    known = known or standing(under_tree, over_tree, cover, vertex_normals(under, under_triangles), None, recall)
    depth = np.zeros(len(under))
    depth[known.rows] = known.stand
    least, nearest = known.least()
    whole, part = cover.whole[known.look[cover.whole]], known.look[cover.part]
    if exposed is not None:
        whole, part = whole[any_corner(exposed, under_triangles[whole])], part & any_corner(exposed, under_triangles[cover.part])
    sampler = Asked(under_tree, over_tree, cover, recall)
    sampler.whole(whole, known.pierced)
    sampler.part(np.flatnonzero(part | ~any_corner(cover.covered, under_triangles[cover.part])))
    if not sampler.found:
        if recall:
            recall.unseen = np.zeros(len(under_triangles), bool)
        return Found((), np.zeros(len(under)), least, nearest=nearest)
    touched, points, facing, stand, of, share = sampler.out()
    pinched = _pinched(points, facing, under_tree)
    folded, out = np.flatnonzero(pinched), np.flatnonzero(~pinched)
    hidden = recall.unseen[touched] if recall and glance and len(recall.unseen) else np.zeros(len(touched), bool)
    view, unseen = _seen(points[out], facing[out], stand[out], share[out], of[out], under_triangles[touched], len(under),
                         screen, _from_outside(screen, under_tree), hidden)
    if recall:
        recall.unseen = np.zeros(len(under_triangles), bool)
        recall.unseen[touched[unseen]] = True
    seen, view = out[view >= 0], view[view >= 0]
    size = triangle_areas(under, under_triangles[touched])
    each = size[of[seen]] * share[seen]
    area = np.bincount(of[seen], each, len(touched))
    left_out = float((size[of[folded]] * share[folded]).sum())
    deepest = np.zeros(len(touched))
    np.maximum.at(deepest, of[seen], stand[seen])
    places, place = _places(under, under_triangles[touched], area, deepest)
    visible = np.zeros(len(under), bool)
    visible[under_triangles[touched][area > 0]] = True
    depth[~visible] = 0.0
    if places:
        least, nearest = -places[0].depth, places[0].vertices
    shown = Seen(points[seen], facing[seen], each, place[of[seen]], view, touched[of[seen]])
    return Found(places, depth, min(least, UNDER), left_out, shown, nearest)


def _pinched(points: np.ndarray, facing: np.ndarray, under: TriangleTree) -> np.ndarray:
    """Return `(q,) bool`: the same layer lies within 3 mm before the point, so that there is no room for anything over it."""
    return np.isfinite(under.first_hits(points + 1e-5 * facing, facing, PINCH)[0])


def _from_outside(screen: Screen, under: TriangleTree) -> list[int]:
    """Return the order in which the screen's trees are likely to hide the layer `under`: those over it, outwards, then the others."""
    at = next((k for k, tree in enumerate(screen.trees) if tree is under), -1)
    return [*range(at + 1, len(screen.trees)), *range(at, -1, -1)]


def _seen(points: np.ndarray, facing: np.ndarray, stand: np.ndarray, share: np.ndarray, of: np.ndarray, faces: np.ndarray, count: int,
          screen: Screen, order: list[int], known: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return `(q,) int`: a side (of 350) from which each point, `of` which of the `faces` (t, 3), can be seen, -1 for none: the 26 plainest
    are asked of some points of each face and of all beside what is seen; then the others for some at the rim of what stands out and some
    of each face but those `known` (t,) not to be seen, and for those by what is seen; and `(t,) bool`: the faces that have been looked at
    from all sides and are seen from none.

    Most of what stands out unseen lies deep in a fold, and is not worth the finer look.
    """
    view, unseen = np.full(len(points), -1), known.copy()
    if not len(points):
        return view, unseen
    rows, left, looked_at = faces[of], np.ones(len(points), bool), np.zeros(len(points), bool)

    def glance(ask: np.ndarray) -> None:
        ask = np.sort(ask[~looked_at[ask]])  # beside one another: what hides one from a side hides the next
        view[ask] = screen.escapes(points[ask] + 2e-4 * facing[ask], facing[ask], PLAIN, GLANCE, _EYE_DISTANCE, order)
        looked_at[ask], left[ask] = True, view[ask] < 0

    def look(ask: np.ndarray) -> None:
        glance(ask)
        ask = np.sort(ask[left[ask]])
        more = screen.escapes(points[ask] + 2e-4 * facing[ask], facing[ask], OTHERS, GLANCE, _EYE_DISTANCE, order)
        view[ask] = np.where(more < 0, -1, more + len(PLAIN.directions))
        left[ask] = False

    def beside(among: np.ndarray) -> np.ndarray:
        by = np.zeros(count, bool)
        by[rows[view >= 0]] = True
        return np.flatnonzero(among & any_corner(by, rows))

    shallow = np.argsort(stand, kind="stable")
    more = some_of_each(shallow, of, len(faces), _FIRST)
    while len(more):
        glance(more)
        more = beside(~looked_at)
    shallow = shallow[~known[of[shallow]]]
    look(shallow[share[shallow] < 1.5 / len(FINEST)][:_RIM])
    some = some_of_each(shallow, of, len(faces), _EACH)[:_DOUBT]
    look(some)
    unseen[of[some]] = True
    for _ in range(_SPREAD):
        more = beside(left)
        if not len(more):
            break
        look(more)
    unseen[of[view >= 0]] = False
    return view, unseen


def sees_out(points: np.ndarray, facing: np.ndarray, blockers: list[TriangleTree]) -> np.ndarray:
    """Return `(q,) bool`: a ray from the point escapes past every blocker in at least one of 98 directions.

    Args:
        points: (n, 3) float, metres.
        facing: (n, 3) unit vectors.
        blockers: What may stand before a point, as trees of triangles.
    """
    if not len(points):
        return np.zeros(0, bool)
    return Screen(blockers).escapes(points + 2e-4 * facing, facing, USUAL, GLANCE, _EYE_DISTANCE) >= 0


def _places(points: np.ndarray, triangles: np.ndarray, area: np.ndarray, depth: np.ndarray) -> tuple[tuple[Place, ...], np.ndarray]:
    """Return the connected places, deepest first, and which of them each triangle belongs to (-1: none)."""
    shown, of = np.flatnonzero(area > 0), np.full(len(triangles), -1)
    if not len(shown):
        return (), of
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
    first = sorted(range(count), key=lambda k: -out[k].depth)
    of[shown] = np.argsort(first)[of_triangle]
    return tuple(out[k] for k in first), of
