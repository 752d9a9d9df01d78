"""Bodies of one's own: joints told, surfaces registered, poses and pieces carried over. The truth is known because the bodies are our
figure in other shapes and poses, its vertices shuffled or its mesh remade, under joint names of another kind."""

import numpy as np
import pytest
import trimesh
from scipy.spatial import KDTree

from demo.dressed import FILE
from wily_heron.core.bodies.divide import propose
from wily_heron.core.bodies.inside_out import inside_out
from wily_heron.core.bodies.joint_guess import guess_joints
from wily_heron.core.bodies.own_body import carrier_wearer, own_body
from wily_heron.core.bodies.register import register
from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.body import Wearer, shaped
from wily_heron.core.figure.base.skeleton import Skeleton
from wily_heron.core.figure.figure import figure
from wily_heron.core.fit.ride import ride, skin_turns
from wily_heron.core.mesh.mesh import Material, Mesh
from wily_heron.core.model.made_for import candidates, warning
from wily_heron.core.model.model import Model
from wily_heron.core.model.roles import check_roles, find_roles
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.receive import Receive
from wily_heron.core.motion.pose import pose_matrices, posed_body
from wily_heron.core.motion.pose_library import POSES
from wily_heron.core.receive.receive import receive
from wily_heron.core.space.tree import TriangleTree
from wily_heron.formats.piece_read import read_model_file

BODIES = {
    "as it is": ({}, "rest"), "heavy and short": ({"girth": 0.8, "stature": -0.5, "bust": 0.6}, "rest"),
    "tall and strong": ({"muscle": 0.8, "stature": 0.8}, "rest"), "thin, arms out": ({"girth": -0.5}, "arms-out"),
}


def truth(name: str) -> tuple[Wearer, np.ndarray, np.ndarray]:
    """The wearer, its level-1 vertices and its joints as they stand."""
    settings, pose = BODIES[name]
    wearer = shaped(figure(1), settings)
    matrices = pose_matrices(wearer, POSES[pose])
    joints = np.einsum("jab,jb->ja", matrices[:, :3, :3], wearer.skeleton.positions) + matrices[:, :3, 3]
    return wearer, posed_body(wearer, POSES[pose]).astype(np.float64), joints


def other_names(names: tuple[str, ...]) -> tuple[str, ...]:
    words = {"shoulder": "upperArm", "elbow": "foreArm", "radiocarpal": "hand", "hip": "thigh", "knee": "shin", "talocrural": "foot",
             "metatarsophalangeal": "toe", "sternoclavicular": "clavicle"}
    out = []
    for n in names:
        side, plain = (n[:2], n[2:]) if n[:2] in ("l_", "r_") else ("", n)
        out.append({"l_": "Left_", "r_": "Right_", "": ""}[side] + words.get(plain, f"bone_{plain}"))
    return tuple(out)


@pytest.mark.parametrize("name", BODIES)
def test_a_body_with_joints_of_other_names_is_registered_within_millimetres(name: str):
    wearer, points, joints = truth(name)
    order = np.random.default_rng(0).permutation(len(points))
    place = np.argsort(order)
    skeleton = Skeleton(other_names(wearer.skeleton.names), wearer.skeleton.parents, joints)
    skin = type(wearer.body.skin)(wearer.body.skin.joints[order], wearer.body.skin.weights[order])
    own = own_body(Model(Mesh(points[order].astype(np.float32), place[wearer.body.triangles].astype(np.int32)), skeleton, skin))
    assert own.found.own_skeleton
    assert own.roles["l_elbow"] == "Left_foreArm"
    gap = np.linalg.norm(own.carrier - points, axis=1)
    assert gap.mean() < 0.003
    assert np.quantile(gap, 0.95) < 0.008  # its hands have no finger roles by name


@pytest.mark.slow("core/bodies", "core/figure")
@pytest.mark.parametrize("name", BODIES)
def test_a_body_without_a_skeleton_gets_ours_within_centimetres(name: str):
    wearer, points, joints = truth(name)
    own = own_body(Model(Mesh(points.astype(np.float32), wearer.body.triangles)))
    assert not own.found.own_skeleton
    limbs = [wearer.skeleton.index(f"{s}_{j}") for s in "lr" for j in ("shoulder", "elbow", "radiocarpal", "hip", "knee", "talocrural")]
    assert np.linalg.norm(own.body.skeleton.positions - joints, axis=1)[limbs].mean() < 0.015
    gap = np.linalg.norm(own.carrier - points, axis=1)
    assert gap.mean() < 0.010
    assert own.found.registered_mm < 1.0
    assert np.abs(own.body.skin.weights.sum(axis=1) - 1).max() < 1e-5


def test_a_body_of_another_mesh_is_registered_as_well():
    """The same surface at four times the triangles: no vertex knows its like."""
    wearer, points, joints = truth("heavy and short")
    finer = trimesh.Trimesh(points, wearer.body.triangles, process=False).subdivide()
    laid = register(np.asarray(finer.vertices), np.asarray(finer.faces, np.int32), dict(zip(wearer.skeleton.names, joints, strict=True)))
    assert np.linalg.norm(laid.points - points, axis=1).mean() < 0.003
    assert laid.loose < 0.02


def test_a_pose_means_the_same_on_a_body_that_rests_with_its_arms_out():
    """The same person bound in two rest poses ends in the same place when both kneel."""
    wearer, points, joints = truth("thin, arms out")
    skeleton = Skeleton(other_names(wearer.skeleton.names), wearer.skeleton.parents, joints)
    own = own_body(Model(Mesh(points.astype(np.float32), wearer.body.triangles), skeleton, wearer.body.skin))
    theirs = shaped(own.body, {})
    for pose in ("kneel", "reach-up", "stride"):
        mine = pose_matrices(wearer, POSES[pose])
        ours = np.einsum("jab,jb->ja", mine[:, :3, :3], wearer.skeleton.positions) + mine[:, :3, 3]
        it = pose_matrices(theirs, POSES[pose])
        there = np.einsum("jab,jb->ja", it[:, :3, :3], theirs.skeleton.positions) + it[:, :3, 3]
        for joint in ("l_elbow", "l_radiocarpal", "r_knee", "r_talocrural", "skullbase"):
            a, b = wearer.skeleton.index(joint), theirs.skeleton.index(joint)
            way, other = ours[a] - ours[wearer.skeleton.index("vl5")], there[b] - there[theirs.skeleton.index("vl5")]
            assert np.linalg.norm(way - other) < 0.015, (pose, joint)


def test_joints_are_found_on_bodies_of_many_shapes():
    for settings in ({"girth": 1.0}, {"stature": -1.0, "muscle": 0.5}, {"leg_length": 0.8}, {"belly": 1.0, "bust": 0.5}):
        wearer = shaped(figure(1), settings)
        found = guess_joints(wearer.points, wearer.body.triangles)
        off = [np.linalg.norm(found[n] - wearer.skeleton.positions[wearer.skeleton.index(n)]) for n in found]
        assert np.mean(off) < 0.02, settings
        assert max(off) < 0.05, settings


def test_a_ball_is_no_body_and_says_so():
    ball = trimesh.creation.icosphere(subdivisions=3)
    with pytest.raises(InputError, match=r"hand|crotch|limb"):
        own_body(Model(Mesh(ball.vertices.astype(np.float32), ball.faces.astype(np.int32))))


def test_roles_that_name_a_joint_twice_or_leave_a_limb_out_are_refused():
    skeleton = figure(1).skeleton
    roles = find_roles(skeleton)
    assert all(role == name for role, name in roles.items())
    with pytest.raises(InputError, match="two roles"):
        check_roles(skeleton, {**roles, "l_knee": "r_knee"})
    with pytest.raises(InputError, match="l_elbow"):
        check_roles(skeleton, {r: n for r, n in roles.items() if r != "l_elbow"})


def test_riding_is_exact_for_a_rigid_move_and_keeps_the_ease_on_another_shape(received_coat: Piece):
    body = figure(1)
    turn = trimesh.transformations.rotation_matrix(0.7, [0.2, 1, 0.1])[:3, :3]
    points = received_coat.mesh.points.astype(np.float64)
    moved = ride(points, received_coat.mesh.triangles, body.base, body.base @ turn.T + [0.1, 0.2, 0.3], body.triangles)
    assert np.abs(moved - (points @ turn.T + [0.1, 0.2, 0.3])).max() < 1e-4
    assert np.abs(skin_turns(body.base, body.base @ turn.T, body.triangles) - turn).max() < 1e-4
    suit = body.base + 0.008 * trimesh.Trimesh(body.base, body.triangles, process=False).vertex_normals
    heavy = shaped(body, {"girth": 0.6})
    there = ride(suit, body.triangles, body.base, heavy.points, body.triangles)
    truth_at = heavy.points + 0.008 * trimesh.Trimesh(heavy.points, body.triangles, process=False).vertex_normals
    assert np.quantile(np.linalg.norm(there - truth_at, axis=1), 0.95) < 0.004


@pytest.mark.parametrize("names", ["as it came", "without names"])
def test_a_dressed_body_is_taken_apart_where_its_parts_meet(names: str):
    model = receive(read_model_file(FILE), Receive(mends=()), 1.70).brought
    truth_part = np.searchsorted(np.cumsum([2 * 9920]), np.arange(len(model.mesh.triangles)), side="right")
    if names == "without names":
        plain = tuple(Material(f"m{k}", m.colour) for k, m in enumerate(model.mesh.materials))
        model = Model(type(model.mesh)(model.mesh.points, model.mesh.triangles, None, model.mesh.triangle_material, materials=plain),
                      model.skeleton, model.skin, model.morphs, model.deltas, objects=("all",))
    found = propose(model, 1.70)
    assert found.parts[0].is_body
    assert ((found.label == 0) == (truth_part == 0)).mean() > 0.999
    assert sorted(p.category for p in found.parts[1:]) == ["bottom", "footwear", "top"]


def test_the_body_a_piece_was_made_for_is_told_by_figures_and_a_wrong_choice_is_warned_of(received_coat: Piece):
    thin, stout = shaped(figure(1), {"girth": -0.6}), shaped(figure(1), {"girth": 1.0, "belly": 1.0, "hip": 0.6})
    suit = stout.points + 0.006 * trimesh.Trimesh(stout.points, stout.body.triangles, process=False).vertex_normals
    piece = Piece(Mesh(suit.astype(np.float32), stout.body.triangles), np.zeros(0))
    found = candidates(piece, {"Thin": thin, "Stout": stout})
    assert [c.name for c in found] == ["Stout", "Thin"]
    assert found[0].skin == pytest.approx(0.006, abs=0.001)
    assert warning("Stout", found) is None
    assert "mm" in (warning("Thin", found) or "")


def test_a_carrier_lies_on_the_body_it_carries():
    wearer, points, _ = truth("tall and strong")
    carrier = carrier_wearer(points)
    assert np.abs(TriangleTree(points, wearer.body.triangles).nearest(carrier.points).distance).max() < 1e-6
    assert KDTree(points).query(carrier.points)[0].max() < 1e-6


@pytest.mark.parametrize("numbers", [(1, 2, 3), (3, 1, 2), (2, 3, 1)])
def test_a_belt_over_a_wide_skirt_is_the_outer_one_though_it_lies_nearer_the_skin(numbers):
    def tube(low: float, high: float, at_low: float, at_high: float) -> tuple[np.ndarray, np.ndarray]:
        made = trimesh.creation.cylinder(1.0, 1.0, sections=64).subdivide().subdivide()
        ring = np.linalg.norm(made.vertices[:, :2], axis=1) > 0.99
        keep = ring[made.faces].all(axis=1)
        share = made.vertices[:, 2] + 0.5
        wide = at_low + share * (at_high - at_low)
        points = np.column_stack([wide * made.vertices[:, 0], low + share * (high - low), wide * made.vertices[:, 1]])
        return points, made.faces[keep][:, ::-1]

    worn = {"body": tube(-1, 1, 0.10, 0.10), "shirt": tube(0, 1, 0.11, 0.11),
            "skirt": tube(-0.6, 0.5, 0.35, 0.12), "belt": tube(0.44, 0.5, 0.137, 0.125)}
    points, faces, start = [], {}, 0
    for name, (at, triangles) in worn.items():
        points.append(at)
        faces[name] = (triangles + start).astype(np.int32)
        start += len(at)
    at = np.vstack(points)
    number = dict(zip(("shirt", "skirt", "belt"), numbers, strict=True))
    order = inside_out(at, {number[n]: faces[n] for n in number}, TriangleTree(at, faces["body"]))
    assert order == [number["shirt"], number["skirt"], number["belt"]]
