"""Layers that lie over one another without being neighbours on the rail: what shows through them is found, counted once, and mended."""

from collections.abc import Callable
from itertools import permutations

import igl
import numpy as np
import pytest

from bench.judge import Judge
from bench.stock_outfits import dressed_in_stock
from demo.stock import BUNDLES, stock
from tests.truth.planted import chest_of, judged_area, tunic_of, with_dent
from wily_heron.core.bench.evaluate import run_step
from wily_heron.core.clear.clear import clear
from wily_heron.core.clear.give_way import give_way
from wily_heron.core.clear.hide import covered_faces
from wily_heron.core.clear.layers import Layers
from wily_heron.core.clear.outfit.clear_outfit import clear_outfit
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.clearance.cover.key import SKIN, Key
from wily_heron.core.clearance.find.view_directions import SIDES
from wily_heron.core.drape.drape import Draping
from wily_heron.core.drape.passage import into_pose
from wily_heron.core.errors import InputError
from wily_heron.core.explain.explain import explain
from wily_heron.core.explain.failing_pair import Case
from wily_heron.core.explain.remedies import Trying
from wily_heron.core.figure.base.body import Wearer, shape_values, shaped
from wily_heron.core.figure.base.pose_types import REST
from wily_heron.core.figure.body_landmarks import body_landmarks
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.regions import face_regions
from wily_heron.core.finish.finished_piece import finished
from wily_heron.core.follow.bound_piece import following_piece
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.mesh.normals import vertex_normals
from wily_heron.core.model.layer_names import layer_names
from wily_heron.core.model.model import Model
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.draping import Drape
from wily_heron.core.model.steps.finish import Finish
from wily_heron.core.model.steps.fit import Fit
from wily_heron.core.model.steps.follow import Follow
from wily_heron.core.model.steps.receive import Receive
from wily_heron.core.motion.pose_library import POSES
from wily_heron.core.space.tree import TriangleTree

BODY = figure(1)
NEUTRAL = shaped(BODY, {})
SHAPE = shape_values(BODY, {})


def grown(offset: float, where: Callable[[np.ndarray], np.ndarray], body=BODY) -> Piece:
    """A copy of the skin where `where(points)` says, lifted by `offset` metres, that follows every shape and pose."""
    on = where(body.base)
    triangles = body.triangles[on[body.triangles].all(axis=1)]
    used, local = np.unique(triangles, return_inverse=True)
    points = (body.base + offset * vertex_normals(body.base, body.triangles))[used].astype(np.float32)
    skin = type(body.skin)(body.skin.joints[used], body.skin.weights[used])
    return Piece(Mesh(points, local.reshape(-1, 3).astype(np.int32)), body.made_at, skin, body.deltas[:, used])


def boots(offset: float) -> Piece:
    """Boots as close as a second skin, toes and all."""
    return grown(offset, lambda p: p[:, 1] < 0.30)


def hood(offset: float) -> Piece:
    return grown(offset, lambda p: (p[:, 1] > 1.60) & (p[:, 2] < 0.05))


def measured(pieces: dict[str, Piece], wearer: Wearer = NEUTRAL, pose=REST) -> dict:
    return Dressed(wearer, pieces).measure(pose).figures


def by_name(figures: dict) -> dict[tuple[str, str], dict]:
    return {(p.over, p.under): p for p in figures.pairs}


def test_toes_through_boots_are_found_though_a_base_layer_stands_between_on_the_rail():
    toes = BODY.base[body_landmarks()["left toe"]].astype(float)
    worn = {"Base layer": tunic_of(0.004), "Felt boots": with_dent(boots(0.008), toes, 0.06, 0.020), "Coat": tunic_of(0.012)}
    figures = measured(worn)
    pair = by_name(figures)["Felt boots", "Skin"]
    assert not figures.holds
    assert pair.places[0].name == "left toes"
    assert -20.0 < pair.clearance_mm < -3.0
    assert figures.clearance_mm == pair.clearance_mm
    alone = measured({"Felt boots": worn["Felt boots"]})
    assert pair.area_cm2 == pytest.approx(alone.area_cm2, rel=1e-6)


def test_the_order_of_pieces_that_nowhere_overlap_changes_no_figure():
    worn = {"Hood": hood(0.004), "Boots": with_dent(boots(0.006), BODY.base[body_landmarks()["left heel"]].astype(float), 0.05, 0.012),
            "Shirt": tunic_of(0.004), "Coat": with_dent(tunic_of(0.010), chest_of(tunic_of(0.010)), 0.05, 0.008)}
    told = []
    for order in permutations(worn):
        if order.index("Shirt") < order.index("Coat"):
            figures = measured({name: worn[name] for name in order}, pose=POSES["stride"])
            told.append((figures.model_copy(update={"pairs": ()}), by_name(figures)))
    assert len(told) == 12
    assert all(one == told[0] for one in told[1:])
    assert told[0][0].places >= 2


@pytest.mark.parametrize("both", [False, True])
@pytest.mark.slow("core/clearance", "core/space")
def test_ninety_eight_of_a_hundred_pokes_past_a_piece_between_are_found_and_counted_once(both: bool):
    """Skin through a coat under which a shirt stands on the rail: where the shirt does not reach, or dented together with it."""
    random = np.random.default_rng(17)
    shirt = tunic_of(0.004) if both else grown(0.004, lambda p: (p[:, 1] > 1.24) & (p[:, 1] < 1.38) & (np.abs(p[:, 0]) < 0.17))
    coat = tunic_of(0.008)
    low, high = (1.05, 1.23) if both else (1.05, 1.17)
    inner = np.flatnonzero((np.abs(coat.mesh.points[:, 0]) < 0.10) & (coat.mesh.points[:, 1] > low) & (coat.mesh.points[:, 1] < high))
    hits, ours, judges = 0, [], []
    for vertex in random.choice(inner, 50):
        centre = coat.mesh.points[vertex].astype(float)
        dented = with_dent(coat, centre, 0.05, 0.012)
        under = with_dent(shirt, centre, 0.05, 0.012) if both else shirt
        cell = Dressed(NEUTRAL, {"shirt": under, "boots": boots(0.006), "coat": dented}).measure(REST)
        places = [p for pair in cell.under(SKIN) for p in pair.found.places]
        hits += any(np.linalg.norm(p.centre - centre) < 0.03 for p in places)
        assert not [p for pair in cell.pairs if pair.key.over == 1 for p in pair.found.places]  # nothing is laid at the boots' door
        ours.append(cell.figures.area_cm2)
        judges.append(1e4 * judged_area(BODY, dented.mesh, centre, 8000))
    assert hits >= 49
    assert sum(ours) == pytest.approx(sum(judges), rel=0.15)


def test_what_is_sealed_beneath_a_layer_is_left_out_without_changing_what_shows(monkeypatch):
    dented = [with_dent(p, chest_of(p) + [0.0, up, 0.0], 0.05, 0.008) for p, up in ((tunic_of(0.006), 0.0), (tunic_of(0.009), 0.06))]
    worn = {"shirt": tunic_of(0.004), "tabard": dented[0], "boots": boots(0.005), "coat": dented[1]}
    poses = [POSES[n] for n in ("stride", "sit", "reach-up", "kneel")]
    quick = [measured(worn, pose=p) for p in poses]
    monkeypatch.setattr(Dressed, "_hides", lambda *_: False)
    whole = [measured(worn, pose=p) for p in poses]
    assert max(f.area_cm2 for f in whole) > 1.0
    for a, b in zip(quick, whole, strict=True):
        assert a.area_cm2 == pytest.approx(b.area_cm2, abs=0.1, rel=0.02)
        assert a.clearance_mm <= b.clearance_mm + 0.3


def test_pairs_asked_in_several_threads_tell_the_same():
    worn = {"shirt": tunic_of(0.004), "boots": boots(0.005), "coat": with_dent(tunic_of(0.009), chest_of(tunic_of(0.009)), 0.05, 0.012)}
    dressed, alone = Dressed(NEUTRAL, worn), Dressed(NEUTRAL, worn)
    for name in ("rest", "stride", "sit", "kneel"):
        cell, other = dressed.measure(POSES[name], threads=3), alone.measure(POSES[name])
        assert cell.figures == other.figures
        assert cell.figures.area_cm2 > 0
        for one, two in zip(dressed.clearance_maps(cell, 3), alone.clearance_maps(other), strict=True):
            assert np.array_equal(one, two)


@pytest.mark.slow("core/clearance", "core/clear", "core/space", "bench/judge.py", "bench/stock_outfits.py")
@pytest.mark.parametrize("who", list(CAST))
@pytest.mark.parametrize("bundle", list(BUNDLES))
def test_the_bundles_of_the_demo_are_judged_alike_by_another_method(bundle: str, who: str):
    wearer = shaped(figure(), CAST[who])
    worn = dressed_in_stock(BUNDLES[bundle], wearer)
    dressed, judge = Dressed(wearer, worn), Judge(Dressed(wearer, worn), 3, len(SIDES))
    ours, theirs = [], []
    for name in ("stand", "reach-up", "stride", "sit", "kneel"):
        ours.append(dressed.measure(POSES[name]).figures.area_cm2)
        theirs.append(judge.judge(judge.posed(POSES[name], list(worn.values())))[0])
    assert sum(theirs) > 20.0
    assert sum(ours) == pytest.approx(sum(theirs), rel=0.07, abs=1.0)  # 0.2 to 5.5 % when written
    assert ours == pytest.approx(theirs, rel=0.1, abs=4.0)


@pytest.fixture(scope="module")
def closed() -> dict[tuple[str, str], np.ndarray]:
    """Boots, mittens and a hat of stock fitted over a base layer on each of the cast, as an artist does without saying whose they were."""
    out = {}
    models = {p.name: Model(p.mesh) for p in stock() if p.name in ("Felt boots", "Mittens", "Storm hat")}
    for who in CAST:
        wearer = shaped(figure(), CAST[who])
        for name, model in models.items():
            received = run_step(Piece.of(model, wearer.shape), wearer, Receive())
            out[who, name] = run_step(received, wearer, Fit(ease=0.004)).mesh
    return out


@pytest.mark.slow("core/clearance", "core/fit", "demo")
@pytest.mark.parametrize(("name", "regions"), [
    ("Felt boots", ("toes", "foot", "sole", "ankle")),
    ("Mittens", ("thumb", "index_finger", "middle_finger", "ring_finger", "little_finger", "palm", "back_of_hand")),
])
@pytest.mark.parametrize("who", list(CAST))
def test_footwear_closes_over_all_toes_and_gloves_over_all_fingers(closed, who: str, name: str, regions: tuple[str, ...]):
    wearer, mesh = shaped(figure(), CAST[who]), closed[who, name]
    names, of = face_regions(2)
    rows = np.unique(wearer.body.triangles[np.isin(of, [i for i, n in enumerate(names) if n[2:] in regions])])
    winding = igl.fast_winding_number(mesh.points.astype(float), mesh.triangles.astype(np.int64), wearer.points[rows].astype(float))
    assert len(rows) > 5000
    assert (np.abs(winding) > 0.5).all()


@pytest.mark.parametrize("who", list(CAST))
def test_a_hat_sits_above_the_brows(closed, who: str):
    brow = shaped(figure(), CAST[who]).points[body_landmarks()["brow"]]
    points = closed[who, "Storm hat"].points
    before_the_face = points[(np.abs(points[:, 0]) < 0.06) & (points[:, 2] > 0.0)]
    assert before_the_face[:, 1].min() > brow[1]


@pytest.fixture(scope="module")
def between() -> dict[str, Piece]:
    """Skin through a coat, with a shirt between on the rail that does not reach there, and a piece that lies elsewhere."""
    coat = tunic_of(0.010)
    yoke = grown(0.004, lambda p: (p[:, 1] > 1.20) & (p[:, 1] < 1.38) & (np.abs(p[:, 0]) < 0.17))
    return {"yoke": yoke, "boots": boots(0.006), "coat": with_dent(coat, chest_of(coat), 0.06, 0.016)}


def test_explaining_and_every_remedy_take_the_pair_that_shows(between):
    case = Case.of(between, BODY, SHAPE, REST, "coat")
    assert (case.key, case.under) == (Key(2, SKIN), None)
    assert case.area == pytest.approx(by_name(measured(between))["coat", "Skin"].area_cm2)
    assert "rest fit" in {c.kind for c in explain(case) if c.is_cause}
    tried = list(Trying(case, 0.004).all())
    assert {"ease out", "tuck"} <= {r.kind for r in tried}
    assert min(r.area for r in tried) <= 0.1
    with pytest.raises(InputError, match="nowhere"):
        Case.of(between, BODY, SHAPE, REST, "coat", "boots")


def test_easing_out_tucking_and_the_whole_outfit_clear_what_is_not_next_on_the_rail(between):
    before = measured(between).area_cm2
    assert before > 1.0
    eased, report = clear(between["coat"], BODY, SHAPE, REST, 0.004, Layers((between["yoke"], between["boots"])))
    assert report.kept
    assert measured({**between, "coat": eased}).area_cm2 <= 0.1
    vest = tunic_of(0.005)
    worn = {"vest": vest, "boots": boots(0.006), "coat": with_dent(tunic_of(0.010), chest_of(tunic_of(0.010)), 0.05, 0.008)}
    assert by_name(measured(worn))["coat", "vest"].area_cm2 > 1.0
    tucked, report = clear(vest, BODY, SHAPE, REST, 0.002, Layers((), (worn["boots"], worn["coat"])), "in")
    assert report.kept
    assert measured({**worn, "vest": tucked}).area_cm2 < 0.1 * measured(worn).area_cm2
    made, changed = clear_outfit(between, BODY, SHAPE, POSES["stand"], 0.004)
    assert "boots" not in changed
    assert measured(made, pose=POSES["stand"]).holds


def test_the_skin_gives_way_and_is_hidden_under_a_piece_that_is_not_the_innermost(between):
    layers = Layers((between["yoke"], between["boots"]))
    move, report = give_way(between["coat"], BODY, SHAPE, REST, layers=layers)
    assert report.before.area_cm2 > 1.0
    assert report.after.area_cm2 <= 0.1
    assert np.linalg.norm(move, axis=1).max() > 0.002
    clean = {**between, "coat": tunic_of(0.010)}
    hidden = covered_faces(clean["coat"], BODY, [(SHAPE, REST)], layers, rings=1)
    middle = BODY.base[BODY.triangles[hidden]].mean(axis=1)
    assert len(hidden) > 100
    assert (middle[:, 1] > 0.9).all()  # nothing of the feet, which the boots between have nothing to do with


def test_a_piece_follows_shapes_off_what_is_worn_under_it_there():
    wearer, vest = shaped(figure(), {}), grown(0.004, lambda p: (p[:, 1] > 0.92) & (p[:, 1] < 1.38) & (np.abs(p[:, 0]) < 0.17), figure())
    puffed = Piece(vest.mesh, vest.made_at, vest.skin, 1.8 * vest.deltas)  # it grows by more than the skin does
    coat = grown(0.007, lambda p: (p[:, 1] > 0.94) & (p[:, 1] < 1.36) & (np.abs(p[:, 0]) < 0.16), figure())
    far = shaped(figure(), {"girth": 0.35})
    left = []
    for layers in ([], [boots(0.006), puffed]):
        made, *_ = following_piece(coat, wearer, Follow(ease=0.001), layers)
        left.append(by_name(measured({"vest": puffed, "boots": boots(0.006), "coat": made}, far))["coat", "vest"].area_cm2)
    assert left[0] > 20.0
    assert left[1] < 0.25 * left[0]


def test_cloth_falls_on_a_layer_that_is_not_its_neighbour():
    bump = grown(0.030, lambda p: (p[:, 1] > 1.0) & (p[:, 1] < 1.25) & (np.abs(p[:, 0]) < 0.15) & (p[:, 2] > 0.0))
    coat = grown(0.045, lambda p: (p[:, 1] > 0.92) & (p[:, 1] < 1.38) & (np.abs(p[:, 0]) < 0.17))
    step = Drape(settle=4, move=2, hang=4, keep="pose")
    falling = Draping(coat, NEUTRAL, step, into_pose(REST, step.settle, step.move, step.hang), [bump, boots(0.006)])
    points = falling.run()
    signed, near = TriangleTree(bump.mesh.points, bump.mesh.triangles).signed_distance(points)
    over = np.linalg.norm(points - near.point, axis=1) < 0.02
    assert over.sum() > 20
    assert signed[over].min() > -0.002


def test_layers_are_named_apart_and_none_like_the_skin():
    assert layer_names(["Sock", "Skin", "Sock", "Coat"]) == ["Sock", "Skin 2", "Sock 2", "Coat"]


def test_a_piece_is_measured_as_it_is_finished_under_what_is_not_its_neighbour():
    vest = finished(tunic_of(0.004), Finish(thick=0.003))
    worn = {"vest": vest, "boots": boots(0.006), "coat": tunic_of(0.010)}
    thin = by_name(measured({**worn, "vest": tunic_of(0.004)}))["coat", "vest"].clearance_mm
    thick = by_name(measured(worn))["coat", "vest"].clearance_mm
    assert thin - thick == pytest.approx(3.0, abs=0.4)
