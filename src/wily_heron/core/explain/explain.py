"""Explaining what shows through in a cell: the same cell is measured with one factor undone at a time."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace

import numpy as np

from ..bind.bind import bind
from ..clear.layers import area_of
from ..clearance.cell import Dressed
from ..clearance.regions import region_name
from ..figure.base.body import shaped
from ..figure.base.pose_types import REST
from ..figure.base.skeleton import Skin
from ..mesh.edges import adjacency, unique_edges
from ..mesh.normals import vertex_normals
from ..model.state import Piece
from ..model.steps.bind import Bind
from ..model.steps.fit import FitReport
from ..model.worn import at_rest
from ..space.tree import TriangleTree
from .failing_pair import Case
from .finer import finer_over

_GONE, _STAYS = 0.3, 0.5
"""A factor is a cause when undoing it leaves less than this share of what shows; what stays without it has another cause."""


@dataclass(frozen=True)
class Cause:
    """Something that was undone: its kind, what it is in words, and how much still shows without it (cm2). `is_cause` says whether that is
    little enough."""

    kind: str
    words: str
    left: float
    is_cause: bool


@dataclass(frozen=True)
class Refit:
    """The over-layer made anew, as if it had been made for another body, which it lies nearer to as it was received."""

    body: str
    make: Callable[[], Piece]


def explain(case: Case, refit: Refit | None = None) -> Iterator[Cause]:
    """Yield what was undone and what then still shows, the likeliest causes marked; nothing if the pair holds.

    `refit` is given where the body that the piece is said to have been made for is in doubt.
    """
    whole = case.area
    if whole <= 0.0:
        return
    over = case.pieces[case.over]
    at_rest_ = case.left(pose=REST)
    made = case.left(shape=over.made_at)
    both = case.left(shape=over.made_at, pose=REST)
    rest_fit = both > _STAYS * whole
    by_pose, by_shape = at_rest_ <= _GONE * whole, made <= _GONE * whole
    yield Cause("pose", f"{case.pose.label}: at rest it is gone" if by_pose else f"not {case.pose.label.lower()} alone", at_rest_,
                by_pose and not rest_fit)
    verdict = "this wearer's shape: on the body it was made on it is gone" if by_shape else "not this wearer's shape alone"
    yield Cause("shape", verdict, made, by_shape and not rest_fit)
    verdict = "the fit itself: it shows on the body it was made on, at rest" if rest_fit else "at rest on the body it was made on it holds"
    yield Cause("rest fit", verdict, both, rest_fit)
    if case.under is not None:
        yield from _by_layers(case, whole, rest_fit or not by_pose)
    weights = _by_weights(case, whole)
    if weights is not None:
        yield weights
    yield _by_faces(case, whole)
    if refit is not None:
        left = case.left({**case.pieces, case.over: refit.make()})
        gone = left <= _GONE * whole
        yield Cause("made for", f"the body it was made for: taken as made for {refit.body} it {'is gone' if gone else 'shows as well'}",
                    left, gone)


def main_causes(case: Case, refit: Refit | None = None) -> list[Cause]:
    """Return the causes of what shows, those that name something to mend before the pose and the shape it shows in."""
    causes = [c for c in explain(case, refit) if c.is_cause]
    return sorted(causes, key=lambda c: c.kind in ("pose", "shape"))


def _by_layers(case: Case, whole: float, rest: bool) -> Iterator[Cause]:
    under = case.under
    assert under is not None
    left = max(0.0, shown_in(case, reordered(case.pieces, case.over, under)) - elsewhere(case))
    yield Cause("order", f"the order: {case.over} under {under}" + (" holds" if left <= _GONE * whole else " does not hold either"), left,
                rest and left <= _GONE * whole)
    bare = Dressed(case.dressed().wearer, {n: p for n, p in case.pieces.items() if n != under})
    alone = area_of(bare.measure(case.pose).over(bare.names.index(case.over)))
    need, room = _thickness(case)
    yield Cause("under-layer", f"{under} stands {need:.1f} mm high here, {case.over} leaves it {room:.1f} mm", alone, rest and room < need)


def reordered(pieces: Mapping[str, Piece], over: str, under: str) -> dict[str, Piece]:
    """Return an outfit with `over` just below `under` on the rail."""
    names = [n for n in pieces if n != over]
    names.insert(names.index(under), over)
    return {n: pieces[n] for n in names}


def shown_in(case: Case, pieces: Mapping[str, Piece]) -> float:
    """Return what shows in all (cm2) in a case's cell with other pieces, or others in order."""
    return Dressed(case.dressed().wearer, dict(pieces)).measure(case.pose).figures.area_cm2


def elsewhere(case: Case) -> float:
    """Return what shows in a case's cell (cm2) apart from its pair."""
    return max(0.0, case.cell().figures.area_cm2 - case.area)


def _thickness(case: Case) -> tuple[float, float]:
    """How high the under-layer stands over the skin at the place, and how high the over-layer does (mm), at rest."""
    dressed = case.dressed()
    wearer = dressed.wearer
    skin = TriangleTree(wearer.points, wearer.body.triangles)
    here = case.where()
    low = np.asarray(dressed.rest[case.key.under], float)[here]
    cloth = TriangleTree(dressed.rest[case.key.over], dressed.faces_of(case.key.over))
    high = cloth.nearest(low).point
    return 1000 * float(np.median(skin.signed_distance(low)[0])), 1000 * float(np.median(skin.signed_distance(high)[0]))


def _close_by(case: Case) -> np.ndarray:
    """The over-layer's vertices (bool) within six rings of those nearest to what shows."""
    cell, over = case.cell(), case.pieces[case.over]
    points = cell.points_of(case.key.under)
    triangles = over.mesh.triangles
    hit = TriangleTree(cell.points_of(case.key.over), triangles).nearest(np.asarray(points, float)[case.where()]).triangle
    near = np.zeros(len(over.mesh.points), bool)
    near[triangles[hit]] = True
    links = adjacency(triangles, len(near))
    for _ in range(6):
        near = near | (links @ near > 0)
    return near


def _by_weights(case: Case, whole: float) -> Cause | None:
    over = case.pieces[case.over]
    skin = over.skin
    if skin is None or over.riders is not None:
        return None
    near = _close_by(case)
    wearer = shaped(case.body, over.made_at)
    plain = bind(over.mesh.points, over.mesh.triangles, wearer, Bind(most=4 if skin.joints.shape[1] <= 4 else 8, rigid=(), legs="off"))
    fresh = plain.skin
    if plain.riders is not None or fresh.joints.shape != skin.joints.shape:
        return None
    joints, weights = np.where(near[:, None], fresh.joints, skin.joints), np.where(near[:, None], fresh.weights, skin.weights)
    other = replace(over, skin=Skin(joints.astype(np.int32), weights.astype(np.float32)))
    left = case.left({**case.pieces, case.over: other})
    count = len(wearer.skeleton.names)
    change = np.zeros(count)
    np.add.at(change, skin.joints[near].ravel(), skin.weights[near].ravel())
    np.add.at(change, fresh.joints[near].ravel(), -fresh.weights[near].ravel())
    worst = int(np.argmax(np.abs(change)))
    part = region_name(wearer.skeleton.names[worst])
    much = "too much" if change[worst] > 0 else "too little"
    gone = left <= _GONE * whole
    return Cause("weights", f"the weights: {part} bears {much} here" if gone else "fresh weights do not change it", left, gone)


def _by_faces(case: Case, whole: float) -> Cause:
    over = case.pieces[case.over]
    near = _close_by(case)
    faces = np.asarray(near[over.mesh.triangles].any(axis=1))
    edges, _ = unique_edges(over.mesh.triangles[faces])
    long = np.linalg.norm(over.mesh.points[edges[:, 0]] - over.mesh.points[edges[:, 1]], axis=1)
    size = float(np.quantile(long, 0.9))
    need = face_need(case)
    if size <= need:
        return Cause("coarse", f"its faces ({1000 * size:.0f} mm) are fine enough for this bend ({1000 * need:.0f} mm)", whole, False)
    left = case.left({**case.pieces, case.over: finer(case, faces)})
    words = f"its faces are {1000 * size:.0f} mm here; to bend so it needs {1000 * need:.0f} mm"
    return Cause("coarse", words, left, left <= _STAYS * whole)


def face_need(case: Case) -> float:
    """Return the longest edge (m) whose sag over the posed under-layer stays within half the ease left there: sqrt(8 r s) of a chord over
    radius r, sag s."""
    points, triangles = np.asarray(case.cell().points_of(case.key.under), float), case.under_faces
    edges, _ = unique_edges(triangles)
    edges = edges[case.where()[edges].all(axis=1)]
    normal = vertex_normals(points, triangles)
    along = points[edges[:, 1]] - points[edges[:, 0]]
    length = np.maximum(np.linalg.norm(along, axis=1), 1e-6)
    bend = np.sum((normal[edges[:, 1]] - normal[edges[:, 0]]) * along, axis=1) / length**2
    curve = float(np.quantile(np.clip(bend, 0.0, None), 0.9)) if len(edges) else 0.0
    fitted = case.pieces[case.over].report_of(FitReport)
    sag = 0.5 * max(0.002, fitted.ease if fitted else 0.004)
    return float(np.clip(np.sqrt(8.0 * sag / max(curve, 1e-3)), 0.003, 0.2))


def finer(case: Case, faces: np.ndarray) -> Piece:
    """Return the over-layer with its `faces` halved twice, laid as far over the under-layer at rest as their corners lie."""
    over = case.pieces[case.over]
    wearer = shaped(case.body, over.made_at)
    points = wearer.points if case.under is None else at_rest(case.pieces[case.under], wearer)
    return finer_over(over, faces, TriangleTree(points, case.under_faces))
