"""Hand tools, adjusters, cutting and growing, judged from outside."""

import gc
from dataclasses import replace

import numpy as np
import pytest
import trimesh
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import dijkstra

from bench.fit_truth import made
from wily_heron.core.bench.evaluate import run_step
from wily_heron.core.bench.steps.work.adjust import Adjust
from wily_heron.core.bench.steps.work.drop import Drop
from wily_heron.core.bench.steps.work.refine import Refine
from wily_heron.core.bench.steps.work.thicken import Thicken
from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.fit.skin_under import under_of
from wily_heron.core.mesh.edges import edge_use, unique_edges
from wily_heron.core.mesh.islands import islands
from wily_heron.core.mesh.loops import border_loops
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.hand import HandDab, Knot, Lattice, Stroke
from wily_heron.core.model.steps.receive import Place
from wily_heron.core.model.steps.trim import Curve, Plane, Selection, Trim
from wily_heron.core.model.steps.work import WorkReport
from wily_heron.core.receive.propose import dropped, propose
from wily_heron.core.space.surface import Surface
from wily_heron.core.space.under import Under
from wily_heron.core.work.adjusters import adjusted, adjusters, openings
from wily_heron.core.work.grow import READY, Growth, grow
from wily_heron.core.work.lattice import bent, knots
from wily_heron.core.work.solid import mirrored_half, refined, thickened
from wily_heron.core.work.strokes import Stroking
from wily_heron.core.work.trim import trim

WEARER = shaped(figure(1), {})
TROUSERS, SHIRT = made("trousers", WEARER.points), made("shirt", WEARER.points)


def as_mesh(piece) -> Mesh:
    return Mesh(piece.points.astype(np.float32), piece.triangles, received=np.arange(len(piece.points), dtype=np.int32))


def area(mesh: Mesh) -> float:
    return float(trimesh.Trimesh(mesh.points, mesh.triangles, process=False).area)


def sheet(n: int = 41, side: float = 1.0) -> tuple[np.ndarray, np.ndarray]:
    x, y = np.meshgrid(np.linspace(0, side, n), np.linspace(0, side, n))
    i = np.arange(n * n).reshape(n, n)[:-1, :-1].ravel()
    return np.stack([x, y, 0 * x], -1).reshape(-1, 3), np.concatenate(
        [np.stack([i, i + 1, i + n], 1), np.stack([i + 1, i + n + 1, i + n], 1)]
    )


def test_distances_along_a_flat_sheet_are_the_straight_ones_within_four_percent():
    points, faces = sheet()
    surface = Surface.of(points, faces.astype(np.int32))
    middle = 20 * 41 + 20
    rows, far = surface.within(np.array([middle]), 0.45)
    straight = np.linalg.norm(points[rows] - points[middle], axis=1)
    assert (far >= straight - 1e-9).all()
    assert (far <= 1.09 * straight + 1e-9).all()
    assert np.mean(far / np.maximum(straight, 1e-9)) < 1.04


def test_distances_along_cloth_are_never_longer_than_along_its_edges():
    surface = Surface.of(SHIRT.points, SHIRT.triangles)
    edges, _ = unique_edges(SHIRT.triangles)
    length = np.linalg.norm(SHIRT.points[edges[:, 0]] - SHIRT.points[edges[:, 1]], axis=1)
    graph = csr_matrix((length, (edges[:, 0], edges[:, 1])), shape=(len(SHIRT.points),) * 2)
    rows, far = surface.within(np.array([100]), 0.3)
    assert (far <= dijkstra(graph, directed=False, indices=100)[rows] + 1e-9).all()


def test_a_brush_on_one_leg_does_not_touch_the_other():
    hand = Stroking(TROUSERS.points, TROUSERS.triangles, np.arange(len(TROUSERS.points)), None)
    inner = int(np.argmin(np.linalg.norm(TROUSERS.points - [0.03, 0.62, 0.0], axis=1)))
    other = TROUSERS.points[:, 0] < -0.005
    assert np.linalg.norm(TROUSERS.points[other] - TROUSERS.points[inner], axis=1).min() < 0.12  # through the air it is near
    hand.dab(Stroke(tool="pull", radius=0.12, dabs=()), HandDab(at=inner, move=(0.0, 0.0, 0.1)))
    moved = np.linalg.norm(hand.points - TROUSERS.points, axis=1)
    assert (moved[other].max(), moved[inner]) == (0.0, pytest.approx(0.1))


def test_mirrored_strokes_are_mirror_images():
    hand = Stroking(SHIRT.points, SHIRT.triangles, np.arange(len(SHIRT.points)), None)
    at = int(np.argmin(np.linalg.norm(SHIRT.points - [0.1, 1.1, 0.13], axis=1)))
    hand.dab(Stroke(tool="pull", radius=0.05, mirror=True, dabs=()), HandDab(at=at, move=(0.02, 0.01, 0.03)))
    move = hand.points - SHIRT.points
    twin = hand.surface.other
    assert np.abs(move[twin] - move * [-1, 1, 1])[np.linalg.norm(move, axis=1) > 0].max() < 2e-3


def test_press_comes_to_its_offset_puff_goes_out_iron_flattens_and_the_mask_holds():
    under = Under.of(WEARER.points, WEARER.body.triangles)
    at = int(np.argmin(np.linalg.norm(SHIRT.points - [0.0, 1.1, 0.13], axis=1)))
    rows = np.arange(len(SHIRT.points))
    hand = Stroking(SHIRT.points, SHIRT.triangles, rows, under)
    for _ in range(12):
        hand.dab(Stroke(tool="press", radius=0.08, offset=0.003, dabs=()), HandDab(at=at))
    assert from_skin(hand.points[at]) == pytest.approx(0.003, abs=3e-4)
    hand = Stroking(SHIRT.points, SHIRT.triangles, rows, under)
    hand.dab(Stroke(tool="puff", radius=0.08, dabs=()), HandDab(at=at))
    assert from_skin(hand.points[at]) == pytest.approx(0.018, abs=1e-3)
    spiky = SHIRT.points.copy()
    spiky[at] += [0, 0, 0.03]
    hand = Stroking(spiky, SHIRT.triangles, rows, under)
    for _ in range(5):
        hand.dab(Stroke(tool="iron", radius=0.08, dabs=()), HandDab(at=at))
    assert np.linalg.norm(hand.points[at] - SHIRT.points[at]) < 0.008
    hand = Stroking(SHIRT.points, SHIRT.triangles, rows, under)
    hand.dab(Stroke(tool="protect", radius=0.1, dabs=()), HandDab(at=at))
    hand.dab(Stroke(tool="pull", radius=0.02, dabs=()), HandDab(at=at, move=(0, 0, 0.1)))
    assert np.abs(hand.points[at] - SHIRT.points[at]).max() < 1e-9


def from_skin(point: np.ndarray) -> float:
    return float(
        trimesh.proximity.ProximityQuery(trimesh.Trimesh(WEARER.points, WEARER.body.triangles, process=False)).on_surface([point])[1][0]
    )


def test_a_stroke_is_kept_by_the_row_it_was_made_on_and_survives_other_wearers_and_cuts():
    state = Piece(as_mesh(SHIRT), WEARER.shape)
    at = int(np.argmin(np.linalg.norm(SHIRT.points - [0.0, 1.1, 0.13], axis=1)))
    stroke = Stroke(tool="pull", radius=0.05, dabs=(HandDab(at=at, move=(0, 0, 0.04)),))
    cut = Trim(cut=Plane(point=(0.36, 1.2, 0), normal=(0.74, -0.67, 0)), off=(0.5, 1.05, 0))
    here = lambda: WEARER.points  # noqa: E731
    after_cut = run_step(run_step(state, WEARER, cut, here), WEARER, stroke, here)
    row = int(np.flatnonzero(after_cut.mesh.received == at)[0])
    assert np.allclose(after_cut.mesh.points[row], SHIRT.points[at] + [0, 0, 0.04], atol=1e-4)
    gone = Stroke(tool="pull", dabs=(HandDab(at=int(np.argmax(SHIRT.points[:, 0])), move=(0, 0, 0.04)),))
    lost = run_step(after_cut, WEARER, gone, here)
    assert lost.report_of(WorkReport).lost == 1
    assert np.array_equal(lost.mesh.points, after_cut.mesh.points)


def test_a_lattice_moves_all_of_it_as_one_when_all_knots_do():
    step = Lattice(low=(-0.3, 0.9, -0.3), high=(0.3, 1.4, 0.3), cells=(3, 3, 3))
    same = step.model_copy(update={"knots": tuple(Knot(at=i, move=(0.0, 0.0, 0.05)) for i in range(len(knots(step))))})
    inside = np.random.default_rng(2).uniform([-0.08, 1.1, -0.08], [0.08, 1.2, 0.08], (50, 3))
    assert np.allclose(bent(inside, same) - inside, [0, 0, 0.05], atol=1e-6)
    one = step.model_copy(update={"knots": (Knot(at=0, move=(0.1, 0.0, 0.0)),)})
    far = np.array([[0.29, 1.39, 0.29]])
    assert np.abs(bent(far, one) - far).max() == 0.0
    with pytest.raises(InputError, match="no knot"):
        bent(far, step.model_copy(update={"knots": (Knot(at=64, move=(0, 0, 0)),)}))


def test_adjusters_are_found_and_do_what_they_say():
    found = {a.name: a for a in adjusters(SHIRT.points, SHIRT.triangles, WEARER.points)}
    assert {"out", "out chest", "out sleeve", "raise left cuff", "flare hem", "raise neck", "lift", "reach", "shoulder up", "twist"} <= set(
        found
    )
    out, _ = adjusted(SHIRT.points, list(found.values()), {"out": 1.0})
    before = trimesh.Trimesh(SHIRT.points, SHIRT.triangles, process=False).section([0, 1, 0], [0, 1.0, 0]).length
    after = trimesh.Trimesh(out, SHIRT.triangles, process=False).section([0, 1, 0], [0, 1.0, 0]).length
    assert 0.10 < after - before < 0.23  # 30 mm out all round would be 2 pi 30 mm; the way out is evened along the border
    cuff = next(o for o in openings(SHIRT.points, SHIRT.triangles, WEARER.points) if o.name == "left cuff")
    short, unknown = adjusted(SHIRT.points, list(found.values()), {"raise left cuff": 1.0, "no such": 1.0})
    gone = (short - SHIRT.points)[cuff.loop] @ cuff.way
    assert np.allclose(gone, -0.07, atol=1e-3)
    assert unknown == ["no such"]
    right = SHIRT.points[:, 0] < 0
    assert np.abs(short - SHIRT.points)[right].max() < 1e-6


def test_adjusters_clear_the_body_as_they_go():
    state = Piece(as_mesh(SHIRT), WEARER.shape)
    tight = run_step(state, WEARER, Adjust(values={"out waist": -1.0}, clear=True, ease=0.004), lambda: WEARER.points)
    tree = trimesh.Trimesh(WEARER.points, WEARER.body.triangles, process=False)
    distance = trimesh.proximity.signed_distance(tree, tight.mesh.points[::7])  # positive inside
    assert distance.max() < -0.0025


def test_cut_sleeves_are_short_clean_and_hemmed():
    mesh = as_mesh(SHIRT)
    cut = Trim(cut=Plane(point=(0.36, 1.2, 0), normal=(0.74, -0.67, 0)), off=(0.5, 1.05, 0))
    short, report = trim(mesh, cut)
    loops = border_loops(short.triangles)
    on = min(loops, key=lambda loop: np.abs((short.points[loop] - [0.36, 1.2, 0]) @ [0.74, -0.67, 0]).max())
    assert np.abs((short.points[on] - [0.36, 1.2, 0]) @ [0.74, -0.67, 0]).max() < 1e-3  # the border lies in the plane
    assert len(loops) == 4
    assert (edge_use(short.triangles)[1] <= 2).all()
    assert report.removed > 100
    assert short.points[:, 0].min() == mesh.points[:, 0].min()  # the other sleeve is whole
    hemmed, _ = trim(mesh, cut.model_copy(update={"hem": 0.02}))
    assert 0.7 < (area(hemmed) - area(short)) / (0.02 * 0.30) < 1.6  # a strip 2 cm wide round a sleeve of about 30 cm
    with pytest.raises(InputError, match="does not meet"):
        trim(mesh, Trim(cut=Plane(point=(3, 0, 0), normal=(1, 0, 0)), off=(4, 0, 0)))


def test_a_window_a_slit_and_a_selection():
    mesh = as_mesh(SHIRT)
    angle = np.linspace(0, 2 * np.pi, 60, endpoint=False)
    ring = tuple((float(0.05 * np.cos(a)), float(1.1 + 0.05 * np.sin(a)), 0.115) for a in angle)
    window, _ = trim(mesh, Trim(cut=Curve(points=ring, closed=True), off=(0.0, 1.1, 0.12)))
    assert area(mesh) - area(window) == pytest.approx(np.pi * 0.05**2, rel=0.12)
    assert len(border_loops(window.triangles)) == 5
    line = tuple((0.03, float(y), 0.12) for y in np.linspace(1.4, 0.95, 40))
    slit, report = trim(mesh, Trim(cut=Curve(points=line)))
    assert report.slit
    assert area(slit) == pytest.approx(area(mesh), rel=1e-4)
    assert max(map(len, border_loops(slit.triangles))) > max(map(len, border_loops(mesh.triangles))) + 30
    with pytest.raises(InputError, match="does not part"):
        trim(mesh, Trim(cut=Curve(points=line[5:-5]), off=(0.1, 1.1, 0.12)))
    row = int(np.argmin(np.linalg.norm(SHIRT.points - [0.0, 1.1, 0.13], axis=1)))
    hole, _ = trim(mesh, Trim(cut=Selection(rows=(row,), radius=0.06)))
    assert len(border_loops(hole.triangles)) == 5
    with pytest.raises(InputError, match="no longer there"):
        trim(mesh, Trim(cut=Selection(rows=(999_999,))))


def test_thick_cloth_is_closed_and_as_thick_as_asked():
    solid = thickened(as_mesh(SHIRT), 0.003)
    closed = trimesh.Trimesh(solid.points, solid.triangles, process=False)
    assert closed.is_watertight
    assert closed.is_winding_consistent
    assert closed.volume == pytest.approx(0.003 * area(as_mesh(SHIRT)), rel=0.06)


def test_refining_keeps_the_surface_together_and_a_mirrored_half_is_symmetric():
    mesh = as_mesh(SHIRT)
    chosen = np.linalg.norm(mesh.points[mesh.triangles].mean(axis=1) - [0.38, 1.19, 0], axis=1) < 0.08
    fine = refined(mesh, chosen)
    assert (edge_use(fine.triangles)[1] <= 2).all()
    assert len(border_loops(fine.triangles)) == 4
    assert area(fine) == pytest.approx(area(mesh), rel=0.01)
    pulled = mesh.moved(mesh.points + np.where(mesh.points[:, :1] > 0.1, [0.0, 0.0, 0.02], [0.0, 0.0, 0.0]))
    whole = mirrored_half(pulled, left=True)
    flipped = {tuple(np.round(p * [-1.0, 1, 1], 4) + 0.0) for p in whole.points.astype(float)}
    assert sum(tuple(np.round(p, 4) + 0.0) in flipped for p in whole.points.astype(float)) == len(whole.points)
    assert (edge_use(whole.triangles)[1] <= 2).all()


def test_work_can_be_done_in_any_order_and_parts_taken_off():
    coat = made("coat", WEARER.points)
    state = Piece(as_mesh(coat), WEARER.shape)
    for step in (Refine(where="joints"), Thicken(thick=0.002), Drop(parts=(int(np.flatnonzero(coat.rigid)[0]),))):
        state = run_step(state, WEARER, step, lambda: WEARER.points)
    count, _ = islands(state.mesh.triangles, len(state.mesh.points))
    assert count == 1 + 6 - 1
    assert [r.kind for r in state.reports_of(WorkReport)] == ["refine", "thicken", "drop"]


@pytest.mark.parametrize("what", list(READY))
def test_what_grows_from_skin_keeps_its_ease(what: str):
    fine = shaped(figure(2), {"girth": 0.3})
    ease = 0.002 if what == "gloves" else 0.004  # between fingers there is no room for more
    mesh = grow(fine, Growth(READY[what], ease=ease, hem=0.0, sole=0.02 if what == "boots" else 0.0, even=0.2))
    count, label = islands(mesh.triangles, len(mesh.points))
    assert count == {"gloves": 2, "socks": 2, "boots": 4}.get(what, 1)
    assert mesh.corner_uv is not None
    assert (edge_use(mesh.triangles)[1] <= 2).all()
    body = trimesh.Trimesh(fine.points, fine.body.triangles, process=False)
    cloth = mesh.points[(label == 0) if what != "boots" else (mesh.points[:, 1] > 0.05)][::23]
    away = -trimesh.proximity.signed_distance(body, cloth)
    assert np.quantile(away, 0.05) > 0.5 * ease
    if what == "boots":
        assert mesh.points[:, 1].min() == pytest.approx(fine.points[:, 1].min() - 0.004 - 0.02, abs=0.004)
        assert len(mesh.materials) == 2


def test_growing_says_what_it_cannot():
    with pytest.raises(InputError, match="no region 'wing'"):
        grow(shaped(figure(2), {}), Growth(("wing",)))


def test_a_hat_is_proposed_on_the_head_a_boot_on_its_foot_and_a_shirt_in_place_stays():
    angle, height = np.meshgrid(np.linspace(0, 2 * np.pi, 40), np.linspace(0, 0.14, 8))
    hat = np.stack([0.11 * np.cos(angle), height, 0.13 * np.sin(angle)], -1).reshape(-1, 3)
    step, _ = propose(hat, "headwear", WEARER.points)
    crown = WEARER.points[:, 1].max()
    assert abs(hat[:, 1].max() + step.move[1] - crown) < 0.03
    assert step.scale == 1.0
    boot = np.random.default_rng(1).uniform([-0.05, 0, -0.12], [0.05, 0.2, 0.15], (400, 3)) + [3.0, 0, 0]
    step, why = propose(boot, "footwear", WEARER.points)
    assert "left" in why
    assert abs(3.0 + step.move[0] - 0.1) < 0.04
    assert propose(SHIRT.points, "top", WEARER.points)[0] == Place()
    assert propose(100 * hat, "headwear", WEARER.points)[0].scale == pytest.approx(0.01, rel=0.4)


def test_a_hat_let_go_over_the_head_falls_onto_it():
    disc = np.random.default_rng(3).uniform([-0.05, 0, -0.05], [0.05, 0.001, 0.05], (300, 3)) + [0, 2.2, 0]
    fall = dropped(disc, WEARER.points, WEARER.body.triangles, 0.003)
    gap = (disc + [0, fall, 0])[:, 1].min() - WEARER.points[:, 1].max()
    assert 0.0 < gap + 0.01 < 0.02


def test_one_body_never_gets_the_skin_of_another_that_lay_at_its_address():
    for k in range(60):
        wearer = shaped(replace(figure(1), base=figure(1).base + np.float32(0.02 * k)), {})
        assert np.abs(under_of(wearer).skin.points - wearer.points).max() < 1e-6
        del wearer
        gc.collect()
