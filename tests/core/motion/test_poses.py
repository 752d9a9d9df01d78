"""Poses on bodies: feet on the floor, limbs that keep their girth, and shapes that a pose drives."""

import numpy as np
import pytest

from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.base.rotation import mirrored, turn
from wily_heron.core.figure.correctives import DRIVEN, driven_values
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.measures.tapes import marks, slice_tape
from wily_heron.core.motion.pose import Pose, posed_body
from wily_heron.core.motion.pose_author import PoseAuthor
from wily_heron.core.motion.pose_library import POSES

REST_ARM = (0.743, -0.669, 0.0)
BENT = {
    "elbow 130": (PoseAuthor().arm("l", REST_ARM, elbow=130), "arm", "l_shoulder", "l_elbow", "l_radiocarpal"),
    "knee 130": (PoseAuthor().leg("l", knee=130), "leg", "l_hip", "l_knee", "l_talocrural"),
    "hip 110": (PoseAuthor().leg("l", flex=110), "leg", None, "l_hip", None),
    "arms down": (PoseAuthor().arm("l", (0.19, -0.98, 0.04), elbow=9, collar=-3), "arm", None, "l_shoulder", None),
    "squat": (None, "leg", "l_hip", "l_knee", "l_talocrural"),
    "overhead": (None, "arm", None, "l_shoulder", None),
    "sit": (None, "leg", "l_hip", "l_knee", "l_talocrural"),
    "kneel": (None, "leg", "l_hip", "l_knee", "l_talocrural"),
    "twist": (None, "trunk", None, "vl3", None),
}


@pytest.mark.parametrize("name", list(BENT))
def test_a_joint_loses_less_than_a_fifth_of_its_girth(name: str):
    author, region, above, joint, below = BENT[name]
    pose = author.pose(name, name, "test") if author else POSES[name]
    wearer = shaped(figure(), {})
    skeleton, points = wearer.skeleton, wearer.points.astype(np.float64)
    place = {j: skeleton.positions[skeleton.index(j)] for j in (above, joint, below) if j}
    if above and below:
        bones = [place[joint] - place[above], place[below] - place[joint]]
        way = sum(b / np.linalg.norm(b) for b in bones)
    else:
        way = np.array(REST_ARM) if joint == "l_shoulder" else np.array([0.0, -1.0, 0.0])
    way = way / np.linalg.norm(way)
    start = {"l_hip": 0.10, "l_shoulder": 0.05}.get(joint, 0.0)
    for along in np.linspace(-0.03, 0.03, 7):
        tape = slice_tape(points, marks().regions[region], place[joint] + (start + along) * way, way)
        assert tape is not None
        assert tape.length(posed_body(wearer, pose).astype(np.float64)) > 0.80 * tape.length(points)


def test_a_bend_drives_its_shape_from_0_at_rest_to_1_at_130_degrees():
    body = figure(1)
    for shape, joint in DRIVEN.items():
        at = body.shapes.index(shape)
        for degrees, wanted in ((0, 0.0), (130, 1.0)):
            values = driven_values(body, Pose("p", "p", "test", {joint: turn((1, 0, 0), degrees)}))
            assert values[at] == pytest.approx(wanted, abs=1e-9)
            assert np.count_nonzero(values) == (1 if wanted else 0)


def test_the_library_holds_30_poses_in_nine_families():
    assert len(POSES) - 1 >= 30
    assert {p.family for p in POSES.values()} == {"stand", "reach", "sit", "kneel", "crouch", "stride", "work", "emote", "extreme"}
    assert len({p.label for p in POSES.values()}) == len(POSES)


@pytest.mark.parametrize("pose", list(POSES))
def test_every_body_of_the_range_meets_the_floor(pose: str):
    for settings in ({"girth": 1.0, "stature": -1.0}, {"limb_length": 1.0, "foot_length": 1.0, "girth": -0.8}):
        points = posed_body(shaped(figure(1), settings), POSES[pose])
        assert -0.006 < points[:, 1].min() < 0.0005


def test_a_mirrored_pose_is_the_mirror_image():
    body, pose = figure(1), POSES["lantern-high"]
    swap = {"l_": "r_", "r_": "l_"}
    other = Pose("m", "m", "test", {swap.get(j[:2], j[:2]) + j[2:]: mirrored(q) for j, q in pose.rotations.items()})
    from wily_heron.core.figure.figure import mirror_pairs

    here, there = posed_body(shaped(body, {}), pose), posed_body(shaped(body, {}), other)
    assert np.abs(there[mirror_pairs(1)] * [-1, 1, 1] - here).max() < 1e-5
