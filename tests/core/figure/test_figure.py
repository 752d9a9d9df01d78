"""The generated figure: closed, mirrored, weighted, posed, and made by its generator."""

import hashlib

import numpy as np
import pytest
import trimesh

from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.body import shape_values, shaped
from wily_heron.core.figure.base.rotation import turn
from wily_heron.core.figure.base.shapes import DRAWN
from wily_heron.core.figure.base.skeleton import skin_matrices, world_matrices
from wily_heron.core.figure.base.skinning import skin_points
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import DATA, figure, mirror_pairs
from wily_heron.core.figure.make.cage import build_cage
from wily_heron.core.figure.make.generate import CENTRE
from wily_heron.core.figure.make.nails import nail_moves
from wily_heron.core.figure.make.surface import body_surface, quad_normals, topology
from wily_heron.core.figure.measures.measures import take
from wily_heron.core.figure.regions import face_regions
from wily_heron.core.motion.pose import Pose, pose_matrices, posed_body
from wily_heron.core.motion.pose_library import POSES


@pytest.mark.parametrize("level", [1, 2])
def test_the_body_is_one_closed_surface_of_genus_0(level: int):
    body = figure(level)
    mesh = trimesh.Trimesh(body.base, body.triangles, process=False)
    assert mesh.is_watertight
    assert mesh.is_winding_consistent
    assert mesh.euler_number == 2
    assert 0.045 < mesh.volume < 0.085  # an adult of 1.70 m: 45 to 85 litres


def test_levels_share_their_vertices():
    assert np.array_equal(figure(1).base, figure(2).base[: len(figure(1).base)])


def test_left_and_right_are_mirror_images():
    body, pairs = figure(), mirror_pairs()
    assert np.abs(body.base[pairs] * [-1, 1, 1] - body.base).max() < 1e-6
    assert np.array_equal(pairs[pairs], np.arange(len(pairs)))


@pytest.mark.slow("core/figure")
def test_the_generator_makes_the_shipped_body():
    cage = build_cage({})
    top = topology(cage, 2)
    drawn = body_surface({}, top, 2)
    made = drawn + nail_moves(drawn, quad_normals(drawn, top.quads[2]), top.mirror[2])
    with np.load(DATA) as d:
        stored = d["deltas"].astype(float) * 1e-5
    made += sum(value * stored[DRAWN.index(shape)] for shape, value in CENTRE.items())
    assert np.abs(made - [0, made[:, 1].min(), 0] - figure().base).max() < 2e-5


@pytest.mark.parametrize("level", [1, 2])
def test_every_face_has_a_named_region_and_its_mirror_image_the_other_side(level: int):
    body, pairs = figure(level), mirror_pairs(level)
    names, of = face_regions(level)
    assert len(of) == len(body.triangles)
    sided = [n[2:] for n in names if n.startswith("l_")]
    assert {"upper_arm", "thigh", "sole", "palm", "thumb", "ear", "toes", "shoulder"} <= set(sided)
    corners = {name: np.unique(body.triangles[of == i]) for i, name in enumerate(names)}
    for name in sided:
        assert np.array_equal(np.sort(pairs[corners["l_" + name]]), corners["r_" + name])
        assert body.base[corners["l_" + name], 0].min() > -0.01


def test_the_middle_body_is_an_average_adult():
    """The mean of EN 13402-3:2004's women's size 88 (stature 168) and men's size 92 (stature 172)."""
    asked = {"stature": 1.70, "bust_girth": 0.90, "waist_girth": 0.76, "hip_girth": 0.96}
    taken = take(shaped(figure(), {}), tuple(asked))
    assert all(abs(taken[n].value - value) < 0.010 for n, value in asked.items())


@pytest.mark.slow("core/figure")
def test_the_generator_is_deterministic():
    top = topology(build_cage({}), 1)
    digests = {hashlib.sha256(body_surface({"girth": 0.7}, top, 1).tobytes()).hexdigest() for _ in range(2)}
    assert len(digests) == 1


def test_there_are_at_least_30_joints_under_iso_names():
    names = figure().skeleton.names
    assert len(names) >= 30
    wanted = {"humanoid_root", "sacroiliac", "vl5", "skullbase"} | {
        f"{side}_{joint}" for side in "lr" for joint in ("shoulder", "elbow", "radiocarpal", "hip", "knee", "talocrural")
    }
    assert wanted <= set(names)


def test_an_unknown_joint_is_refused_with_a_hint():
    with pytest.raises(InputError, match=r"no joint called 'elbow'.*l_elbow"):
        figure().skeleton.index("elbow")


def test_weights_sum_to_1_over_at_most_4_joints():
    skin = figure().skin
    assert skin.weights.shape[1] == 4
    assert np.abs(skin.weights.sum(axis=1) - 1).max() < 1e-6
    assert skin.weights.min() >= 0


def test_the_rest_pose_changes_nothing():
    wearer = shaped(figure(), CAST["Corvane"])
    matrices = skin_matrices(wearer.skeleton, world_matrices(wearer.skeleton, {}))
    assert np.abs(skin_points(wearer.points, wearer.body.skin, matrices) - wearer.points).max() < 1e-6


def test_turning_the_root_turns_the_body_rigidly():
    wearer = shaped(figure(1), {})
    pose = Pose("turned", "Turned", "test", {"humanoid_root": turn((0, 1, 0), 40)})
    moved = posed_body(wearer, pose)
    a, b = wearer.points[::50].astype(float), moved[::50].astype(float)
    assert np.abs(np.linalg.norm(a[:, None] - a[None], axis=2) - np.linalg.norm(b[:, None] - b[None], axis=2)).max() < 1e-5


def test_shapes_answer_linearly_and_in_order():
    body = figure(1)
    half, whole = shaped(body, {"girth": 0.5}), shaped(body, {"girth": 1.0})
    assert np.abs((whole.points - body.base) - 2 * (half.points - body.base)).max() < 1e-6
    assert len(body.shapes) >= 6
    assert shaped(body, {"stature": 1}).points[:, 1].max() > body.base[:, 1].max() + 0.1


def test_unknown_shapes_and_wild_values_are_refused():
    with pytest.raises(InputError, match="no shape called 'wings'"):
        shape_values(figure(), {"wings": 1})
    with pytest.raises(InputError, match="outside"):
        shape_values(figure(), {"girth": 7})


@pytest.mark.parametrize("who", list(CAST))
@pytest.mark.parametrize("pose", list(POSES))
def test_every_wearer_stands_on_the_floor_in_every_pose(who: str, pose: str):
    points = posed_body(shaped(figure(), CAST[who]), POSES[pose])
    assert -0.004 < points[:, 1].min() < 0.0005


def test_matrices_of_a_pose_are_rigid():
    matrices = pose_matrices(shaped(figure(1), {}), POSES["kneel"])[:, :3, :3]
    assert np.abs(matrices @ matrices.transpose(0, 2, 1) - np.eye(3)).max() < 1e-9
