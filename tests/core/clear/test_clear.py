"""Explaining, resolving and hiding on scenes whose truth is known because they are built."""

from dataclasses import replace

import numpy as np
import pytest

from tests.truth.planted import BODY, NEUTRAL, case, causes, chest_of, tunic_of, with_dent
from wily_heron.core.bench.evaluate import run_step
from wily_heron.core.clear.clear import clear
from wily_heron.core.clear.hide import covered_faces
from wily_heron.core.clear.layers import Layers
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.clearance.find.incremental import Recalls
from wily_heron.core.explain.explain import Refit, explain
from wily_heron.core.explain.remedies import Trying, detail
from wily_heron.core.figure.base.body import shape_values, shaped
from wily_heron.core.figure.base.pose_types import REST
from wily_heron.core.figure.base.skeleton import Skin
from wily_heron.core.mesh.dihedral import dihedrals
from wily_heron.core.mesh.normals import vertex_normals
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.draping import Drape
from wily_heron.core.model.steps.trim import Trim
from wily_heron.core.motion.pose_library import POSES
from wily_heron.core.work.trim import trim


def test_a_dent_is_the_fits_fault_in_any_pose():
    tunic = tunic_of(0.010)
    assert "rest fit" in causes(case({"tunic": with_dent(tunic, chest_of(tunic), 0.06, 0.018)}))


def test_a_body_wrongly_said_to_be_made_for_is_the_cause_if_the_likelier_one_mends_it():
    tunic = tunic_of(0.010)
    bad = with_dent(tunic, chest_of(tunic), 0.06, 0.018)
    told = lambda made: {c.kind: c for c in explain(case({"tunic": bad}), Refit("Corvane", made))}  # noqa: E731
    right, as_bad = told(lambda: tunic), told(lambda: bad)
    assert right["made for"].is_cause
    assert "Corvane it is gone" in right["made for"].words
    assert not as_bad["made for"].is_cause
    assert as_bad["made for"].left == pytest.approx(case({"tunic": bad}).area, rel=0.01)


def test_a_shape_the_piece_does_not_follow_is_the_shapes_fault():
    deaf = replace(tunic_of(0.006), deltas=None)
    heavy = case({"tunic": deaf}, shape=shape_values(BODY, {"belly": 0.6}), pose=REST)
    assert heavy.area > 50
    assert causes(heavy) == {"shape"}


def test_a_stray_joint_is_the_weights_fault_and_is_named():
    tunic = tunic_of(0.010)
    skin, chest = tunic.skin, np.linalg.norm(tunic.mesh.points - chest_of(tunic), axis=1) < 0.05
    assert skin is not None
    joints, weights = skin.joints.copy(), skin.weights.copy()
    joints[chest], weights[chest] = 0, 0.0
    joints[chest, 0], weights[chest, 0] = BODY.skeleton.index("l_elbow"), 1.0
    stray = case({"tunic": replace(tunic, skin=Skin(joints, weights))})
    found = {c.kind: c for c in explain(stray)}
    assert found["weights"].is_cause
    assert "left elbow" in found["weights"].words
    assert found["pose"].is_cause


def test_a_layer_worn_the_wrong_way_round_is_the_orders_fault():
    inner, outer = tunic_of(0.012), tunic_of(0.005)
    wrong = case({"shirt": inner, "vest": outer}, pair=1, pose=REST)
    assert {"order", "under-layer"} <= causes(wrong)
    tried = {r.kind: r for r in Trying(wrong, 0.004).all()}
    assert tried["reorder"].holds


@pytest.mark.parametrize("way", ["out", "in"])
def test_two_layers_are_cleared_by_moving_the_one_that_is_asked(way):
    inner, outer = tunic_of(0.006), tunic_of(0.012)
    dented = with_dent(outer, chest_of(outer), 0.05, 0.009)
    worn = {"shirt": inner, "vest": dented}
    before = Dressed(shaped(BODY, NEUTRAL), worn).measure(REST).figures
    assert before.pairs[1].area_cm2 > 1
    assert before.pairs[0].area_cm2 == 0
    name, layers = ("vest", Layers((inner,), ())) if way == "out" else ("shirt", Layers((), (dented,)))
    moved, report = clear(worn[name], BODY, NEUTRAL, REST, 0.002, layers, way)
    assert report.kept
    assert 0.002 < report.greatest_move < 0.012
    after = Dressed(shaped(BODY, NEUTRAL), {**worn, name: moved}).measure(REST).figures
    assert after.area_cm2 < 0.05 * before.area_cm2


def test_a_cell_measured_again_with_what_it_remembers_is_the_cell_measured_afresh():
    worn = {"shirt": tunic_of(0.006), "vest": tunic_of(0.012)}
    dressed = Dressed(shaped(BODY, NEUTRAL), worn)
    recall = Recalls()
    at = [np.asarray(layer.points, float) for layer in dressed.measure(REST, recall=recall).layers]
    rng = np.random.default_rng(5)
    for which in (0, 0, 1, 0, 1, 1):  # now the one is moved, now the other
        spot, out = at[which][rng.integers(len(at[which]))], rng.normal(0, 0.01, 3)
        at[which] = at[which] + np.exp(-((np.linalg.norm(at[which] - spot, axis=1) / 0.04) ** 2))[:, None] * out
        known = dressed.measure(REST, dict(enumerate(at)), recall=recall)
        fresh = dressed.measure(REST, dict(enumerate(at)))
        assert known.figures == fresh.figures
        for one, other in zip(known.pairs, fresh.pairs, strict=True):
            assert np.array_equal(one.found.depth, other.found.depth)
    assert fresh.figures.places > 1


def test_every_remedy_says_what_a_fresh_measurement_says():
    tunic = tunic_of(0.010)
    dented = with_dent(tunic, chest_of(tunic), 0.06, 0.018)
    of = case({"tunic": dented})
    found = list(Trying(of, 0.004, [(NEUTRAL, REST)], BODY.base).all())
    assert {"ease out"} <= {r.kind for r in found}
    assert all(r.area < of.area for r in found)
    eased, _ = clear(dented, BODY, NEUTRAL, of.pose, 0.004)
    for_good = next(r for r in found if r.do.get("keep") == "rest")
    there = Dressed(shaped(BODY, NEUTRAL), {"tunic": eased}).measure(of.pose)
    assert for_good.area == pytest.approx(there.figures.area_cm2, abs=0.01)
    moved = np.linalg.norm(there.layers[0].points - of.cell().layers[0].points, axis=1).max()
    assert for_good.move == pytest.approx(1000 * moved, abs=0.05)
    assert for_good.worse == 0
    assert for_good.near == 1


def test_a_fall_as_cloth_is_offered_and_does_what_it_says():
    dented = with_dent(tunic_of(0.010), chest_of(tunic_of(0.010)), 0.06, 0.018)
    of = case({"tunic": dented})
    (fall,) = Trying(of, 0.004).drape()
    assert fall.area < 0.3 * of.area
    step = Drape.model_validate({**fall.do["drape"], "cell": {"pose": "stride"}})
    made = run_step(dented, shaped(BODY, NEUTRAL), step, layer_of=lambda _: dented)
    there = Dressed(shaped(BODY, NEUTRAL), {"tunic": made}).measure(of.pose)
    assert fall.area == pytest.approx(there.figures.area_cm2, abs=0.01)


def test_what_is_hidden_is_seen_from_nowhere_and_a_window_cut_later_is_a_hole():
    tunic = tunic_of(0.010)
    hidden = covered_faces(tunic, BODY, [(NEUTRAL, POSES["stride"])], rings=1)
    middle = BODY.base[BODY.triangles[hidden]].mean(axis=1)
    assert len(hidden) > 150
    assert middle[:, 1].min() > tunic.mesh.points[:, 1].min() + 0.01  # nothing at the hem, which can be looked under
    worn = replace(tunic, hidden=hidden)
    dressed = Dressed(shaped(BODY, NEUTRAL), {"tunic": worn})
    assert dressed.measure(POSES["stride"], look_for_holes=True).figures.holes_cm2 == 0
    plane = {"by": "plane", "point": [0, 1.15, 0], "normal": [0, 1, 0]}
    mesh, _ = trim(tunic.mesh, Trim.model_validate({"cut": plane, "off": [0, 1.3, 0]}))
    short = Piece(mesh, tunic.made_at, None, None, hidden=hidden)
    figures = Dressed(shaped(BODY, NEUTRAL), {"tunic": short}).measure(REST, look_for_holes=True).figures
    bare = BODY.triangles[hidden][middle[:, 1] > 1.15]
    corner = BODY.base[bare].astype(float)
    area = 0.5 * np.linalg.norm(np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]), axis=1).sum()
    assert figures.holes_cm2 > 0.7 * 1e4 * area
    assert not figures.holds


def test_a_cell_gets_no_worse_by_clearing_under_another_piece():
    inner, outer = tunic_of(0.004), tunic_of(0.006)
    dented = with_dent(inner, chest_of(inner), 0.06, 0.012)
    before = Dressed(shaped(BODY, NEUTRAL), {"shirt": dented, "vest": outer}).measure(REST).figures
    eased, report = clear(dented, BODY, NEUTRAL, REST, 0.003, Layers((), (outer,)))
    after = Dressed(shaped(BODY, NEUTRAL), {"shirt": eased, "vest": outer}).measure(REST).figures
    assert after.area_cm2 <= before.area_cm2
    assert min(p.clearance_mm for p in after.pairs) >= min(p.clearance_mm for p in before.pairs) - 0.06
    assert report.after.area_cm2 == pytest.approx(after.area_cm2, abs=0.01)


def test_the_folds_of_a_cube_are_right_angles():
    p = np.array([[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)], float)
    quads = [(0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3)]
    faces = np.array([t for a, b, c, d in quads for t in ((a, b, c), (a, c, d))])
    _, angle = dihedrals(p, faces)
    assert sorted(np.round(np.degrees(angle)).astype(int).tolist()) == [0] * 6 + [90] * 12


def test_detail_is_measured_where_it_moves_alone():
    tunic = tunic_of(0.010)
    normal = vertex_normals(tunic.mesh.points, tunic.mesh.triangles)
    lifted = tunic.mesh.points + 0.003 * normal * (np.arange(len(normal)) == 40)[:, None]
    move, edges, folds = detail(tunic.mesh.points, lifted, tunic.mesh.triangles)
    assert move == pytest.approx(3.0, abs=0.01)
    assert edges > 0
    assert folds > 0
    assert detail(tunic.mesh.points, tunic.mesh.points, tunic.mesh.triangles) == (0.0, 0.0, 0.0)
