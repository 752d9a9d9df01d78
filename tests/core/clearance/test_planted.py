"""Faults planted between layers, on coarse cloth, in hair under a hood, and what explains and mends those that need it."""

from dataclasses import replace

import igl
import numpy as np
import pytest

from bench.clearing import dressed_in
from bench.wardrobe import wearers
from tests.truth.planted import BODY, NEUTRAL, case, causes, chest_of, judged_area, tunic_of, with_dent
from wily_heron.core.clear.pose_fix import with_fix
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.clearance.cover.key import SKIN, Key
from wily_heron.core.explain.explain import explain
from wily_heron.core.explain.remedies import Trying
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.base.pose_types import Pose
from wily_heron.core.figure.base.skeleton import Skin
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.core.model.state import Piece
from wily_heron.core.motion.own_poses import own_pose
from wily_heron.core.motion.pose_library import POSES
from wily_heron.core.motion.ranges import joint_turn
from wily_heron.core.work.adjusters import adjusters

WEARER = shaped(BODY, NEUTRAL)


def _coarse(piece: Piece, share: int, lift: float = 0.0) -> Piece:
    """The piece with a `share`th of its faces, so that they cut what is round under them; its weights from the nearest of its own."""
    m = piece.mesh
    points, faces, *_ = igl.qslim(m.points.astype(float), m.triangles.astype(np.int64), len(m.triangles) // share)
    faces = np.ascontiguousarray(faces, np.int32)
    near = np.argmin(np.linalg.norm(m.points[None] - points[:, None], axis=2), axis=1)
    assert piece.skin is not None
    assert piece.deltas is not None
    points = points + lift * igl.per_vertex_normals(points, faces.astype(np.int64))
    skin = Skin(piece.skin.joints[near], piece.skin.weights[near])
    return Piece(Mesh(points.astype(np.float32), faces), piece.made_at, skin, piece.deltas[:, near])


def test_ninety_eight_of_a_hundred_pokes_of_one_piece_through_another_are_found():
    shirt, coat, random = tunic_of(0.006), tunic_of(0.014), np.random.default_rng(5)
    inner = np.flatnonzero((np.abs(coat.mesh.points[:, 0]) < 0.10) & (np.abs(coat.mesh.points[:, 1] - 1.13) < 0.10))
    hits = skin = 0
    for vertex in random.choice(inner, 50, replace=False):
        centre = coat.mesh.points[vertex].astype(float)
        cell = Dressed(WEARER, {"shirt": shirt, "coat": with_dent(coat, centre, 0.05, 0.0105)}).measure(POSES["rest"])
        hits += any(np.linalg.norm(p.centre - centre) < 0.03 for p in cell.pair(Key(1, 0)).found.places)
        skin += len(cell.pair(Key(0, SKIN)).found.places)
    assert hits >= 49
    assert skin == 0  # nothing of it is laid at the shirt's door


@pytest.mark.slow("core/clearance", "core/space")
def test_pokes_through_faces_whose_corners_all_lie_outside_are_found():
    coarse, random = _coarse(tunic_of(0.006, 2), 14), np.random.default_rng(9)
    points, faces = coarse.mesh.points.astype(float), coarse.mesh.triangles
    middle = points[faces].mean(axis=1)
    inner = np.flatnonzero((np.abs(middle[:, 0]) < 0.11) & (np.abs(middle[:, 1] - 1.13) < 0.13))
    body = WEARER.points.astype(float), WEARER.body.triangles.astype(np.int64)
    planted = hits = 0
    for face in random.permutation(inner)[:60]:
        if planted == 30:
            break
        laid, corners = points.copy(), faces[face]
        _, on, foot = igl.point_mesh_squared_distance(points[corners], *body)
        laid[corners] = foot + 0.0003 * igl.per_face_normals(*body, np.zeros(3))[on]  # three corners 0.3 mm off the skin, the face in it
        pressed = Piece(coarse.mesh.moved(laid), coarse.made_at, coarse.skin, coarse.deltas)
        if 1e4 * judged_area(BODY, pressed.mesh, middle[face], 10_000) < 0.1:
            continue
        planted += 1
        found = Dressed(WEARER, {"t": pressed}).measure(POSES["rest"]).pairs[0].found
        hits += any(np.linalg.norm(p.centre - middle[face]) < 0.05 for p in found.places)
    assert planted >= 20
    assert hits >= 0.98 * planted


def test_hair_through_a_hood_is_found_and_cleared_like_skin_through_cloth():
    wearer = wearers()["neutral"]
    worn = dressed_in(("cap of hair", "hood"), wearer)
    clean = Dressed(wearer, worn).measure(POSES["rest"]).figures
    assert clean.area_cm2 == 0
    hood = worn["hood"]
    crown = hood.mesh.points[np.argmax(hood.mesh.points[:, 1])].astype(float)
    found = Dressed(wearer, worn | {"hood": with_dent(hood, crown, 0.05, 0.006)}).measure(POSES["rest"])
    pair = found.figures.pairs[1]
    assert (pair.under, pair.over) == ("cap of hair", "hood")
    assert pair.area_cm2 > 1
    assert np.linalg.norm(np.array(pair.places[0].centre) - crown) < 0.03
    assert found.figures.pairs[0].area_cm2 == 0


def test_a_mesh_too_coarse_for_its_bend_is_said_to_be_and_refining_it_helps():
    coarse = _coarse(tunic_of(0.004, 2), 40, 0.001)
    of = case({"tunic": coarse}, pose=POSES["stand"])
    assert of.area > 1
    told = next(c for c in explain(of) if c.kind == "coarse")
    assert told.is_cause
    assert "mm here; to bend so it needs" in told.words
    assert "coarse" not in causes(case({"tunic": with_dent(tunic_of(0.010, 2), chest_of(tunic_of(0.010, 2)), 0.06, 0.018)}))
    (finer,) = Trying(of, 0.004).refine()
    assert finer.area < 0.2 * of.area
    assert finer.do["refine"] > 0.003


def test_the_smallest_turn_that_frees_a_pose_is_offered_and_does_free_it():
    stiff = tunic_of(0.008)
    assert stiff.skin is not None
    joints, weights = np.zeros_like(stiff.skin.joints), np.zeros_like(stiff.skin.weights)
    joints[:, 0], weights[:, 0] = BODY.skeleton.index("vt6"), 1.0  # it goes with the chest like a barrel, the waist bends in it
    barrel = replace(stiff, skin=Skin(joints, weights))
    bent = Pose("bent", "Bent", "own", {"vl1": joint_turn("vl1", np.array([12.0, 0.0, 0.0]))})
    of = case({"barrel": barrel}, pose=bent)
    assert of.area > 0.1
    (nudge,) = Trying(of, 0.004).nudge()
    assert nudge.kind == "nudge"
    assert 0 < nudge.turn <= 12
    freed = own_pose("Freed", nudge.do["rotations"])
    assert Dressed(WEARER, {"barrel": barrel}).measure(freed).figures.area_cm2 == pytest.approx(nudge.area, abs=0.01)
    assert nudge.area <= 0.1
    less = {"vl1": joint_turn("vl1", np.array([12.0 - nudge.turn + 4.0, 0.0, 0.0]))}
    assert Dressed(WEARER, {"barrel": barrel}).measure(Pose("less", "Less", "own", less)).figures.area_cm2 > 0.0


def test_an_adjuster_that_clears_a_cell_is_found_by_trying_and_keeps_its_word():
    tunic = tunic_of(0.006)
    waist = tunic.mesh.points[np.argmin(np.abs(tunic.mesh.points - [0.0, 1.02, 0.15]).sum(axis=1))].astype(float)
    of = case({"tunic": with_dent(tunic, waist, 0.07, 0.009)}, pose=POSES["stand"])
    assert of.area > 1
    (found,) = Trying(of, 0.004, carrier=BODY.base).adjust()
    ((name, value),) = found.do["values"].items()
    adjuster = next(a for a in adjusters(of.pieces["tunic"].mesh.points, of.pieces["tunic"].mesh.triangles, BODY.base) if a.name == name)
    made = with_fix(of.pieces["tunic"], BODY, of.pose, value * adjuster.move, "by hand")
    assert Dressed(WEARER, {"tunic": made}).measure(of.pose).figures.area_cm2 == pytest.approx(found.area, abs=0.01)
    assert found.area <= 0.1
