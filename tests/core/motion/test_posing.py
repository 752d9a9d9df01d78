"""Posing by hand: limbs reach, nothing leaves its range, sides and mirrors are exact."""

import numpy as np
import pytest

from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.base.pose_types import Pose
from wily_heron.core.figure.extras import figure_for
from wily_heron.core.figure.figure import figure
from wily_heron.core.motion.own_poses import own_pose
from wily_heron.core.motion.pose import pose_matrices
from wily_heron.core.motion.pose_library import POSES
from wily_heron.core.motion.posing import copied_side, drag, handles, mirrored_rotations, turned
from wily_heron.core.motion.ranges import joint_angles, joint_turn, swings

_SHAPE = {"stature": 0.6, "limb_length": -0.4, "tail": 1.0}
WEARER = shaped(figure_for(_SHAPE, 1), _SHAPE)


def place(rotations, joint: str) -> np.ndarray:
    """Where the joint stands, by the matrices that carry the skin."""
    at = WEARER.skeleton.index(joint)
    matrix = pose_matrices(WEARER, Pose("test", "Test", "test", dict(rotations)))[at]
    return matrix[:3, :3] @ WEARER.skeleton.positions[at] + matrix[:3, 3]


@pytest.mark.parametrize(("joint", "by"), [
    ("l_radiocarpal", (0.10, 0.45, 0.25)), ("r_radiocarpal", (0.20, 0.25, 0.30)), ("l_radiocarpal", (-0.30, 0.35, 0.35)),
    ("r_radiocarpal", (-0.25, 0.75, 0.05)),
])
def test_a_dragged_hand_arrives(joint: str, by: tuple):
    start = POSES["stand"].rotations
    goal = place(start, joint) + by
    posed = drag(WEARER, start, joint, goal)
    assert posed.reached
    assert np.linalg.norm(place(posed.rotations, joint) - goal) < 0.01


def test_a_dragged_foot_arrives_and_keeps_its_slope():
    start = POSES["stand"].rotations
    goal = place(start, "l_talocrural") + [0.05, 0.22, 0.20]
    posed = drag(WEARER, start, "l_talocrural", goal)
    assert np.linalg.norm(place(posed.rotations, "l_talocrural") - goal) < 0.01
    sole = lambda r: place(r, "l_metatarsophalangeal") - place(r, "l_talocrural")  # noqa: E731
    cosine = sole(posed.rotations) @ sole(start) / np.linalg.norm(sole(start)) ** 2
    assert cosine > np.cos(np.deg2rad(3))


def test_out_of_reach_is_said_and_the_limb_points_there():
    posed = drag(WEARER, {}, "l_radiocarpal", np.array([1.6, 1.2, 0.6]))
    assert not posed.reached
    shoulder, hand = place(posed.rotations, "l_shoulder"), place(posed.rotations, "l_radiocarpal")
    along = (hand - shoulder) / np.linalg.norm(hand - shoulder)
    wanted = (np.array([1.6, 1.2, 0.6]) - shoulder) / np.linalg.norm(np.array([1.6, 1.2, 0.6]) - shoulder)
    assert along @ wanted > 0.995
    assert posed.short == pytest.approx(np.linalg.norm(hand - [1.6, 1.2, 0.6]), abs=0.01)


@pytest.mark.parametrize("joint", handles())
def test_no_drag_takes_a_joint_out_of_its_range(joint: str):
    rng = np.random.default_rng(len(joint))
    for _ in range(4):
        posed = drag(WEARER, POSES["stand"].rotations, joint, place({}, joint) + rng.uniform(-0.7, 0.7, 3))
        for name, q in posed.rotations.items():
            if not swings(name):
                continue
            nearest = joint_turn(name, joint_angles(name, q))
            assert 2 * np.degrees(np.arccos(min(1.0, abs(nearest @ q)))) < 1.0, name


def test_angles_come_back_as_they_were_set():
    rng = np.random.default_rng(3)
    for name in figure(1).skeleton.names:
        ways = swings(name)
        if ways:
            angles = np.array([rng.uniform(0.8 * w.low, 0.8 * w.high) for w in ways])
            turn = joint_turn(name, angles)
            again = joint_turn(name, joint_angles(name, turn))
            assert abs(abs(turn @ again) - 1) < 1e-5, name


def test_an_angle_beyond_the_range_stops_at_its_end():
    assert joint_angles("l_knee", turned({}, "l_knee", np.array([400.0]))["l_knee"])[0] == pytest.approx(138, abs=0.1)
    with pytest.raises(InputError, match="1 angles"):
        turned({}, "l_knee", np.array([1.0, 2.0]))


def test_mirroring_twice_changes_nothing_and_a_copied_side_is_symmetric():
    start = POSES["row-catch"].rotations | POSES["lantern-high"].rotations
    twice = mirrored_rotations(mirrored_rotations(start))
    assert all(np.allclose(twice[j], q) for j, q in start.items())
    even = copied_side(start, "l")
    left = {j: q for j, q in even.items() if j[:2] in ("l_", "r_")}
    other = mirrored_rotations(left)
    assert set(other) == set(left)
    assert all(np.allclose(other[j], q) for j, q in left.items())
    assert all(np.allclose(even[j], q) for j, q in start.items() if j[:2] == "l_")


def test_a_pose_of_ones_own_is_named_after_what_it_is():
    a = own_pose("Hailing the ferry", {"l_elbow": [0, 0, 0.6, 0.8]})
    assert a.name == own_pose("Hailing the ferry", {"l_elbow": (0, 0, 1.2 / 2, 0.8)}).name
    assert a.name != own_pose("Hailing the ferry", {"l_elbow": [0, 0, 0.8, 0.6]}).name
    for bad in ({"l_wing": [0, 0, 0, 1]}, {"l_elbow": [0, 0, 0, 0]}, {"l_elbow": [0, 0, np.nan, 1]}):
        with pytest.raises(InputError):
            own_pose("Bad", bad)
