"""Motion: clips of the house, BVH in and out, and another skeleton's motion on ours."""

import numpy as np
import pytest

from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.base.skeleton import world_matrices
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure
from wily_heron.core.motion.clips import CLIPS, clip_named
from wily_heron.core.motion.motion import Motion, with_lead_in
from wily_heron.core.motion.pose import posed_body
from wily_heron.core.motion.ranges import RANGES
from wily_heron.core.motion.retarget import map_joints, retarget
from wily_heron.formats.bvh import read_bvh, write_bvh

SKELETON = figure(1).skeleton
# another house's skeleton: arms straight out, centimetres, its own names
OTHER = [
    ("Hips", None, (0, 95, 0)),
    ("Spine", "Hips", (0, 12, 0)),
    ("Chest", "Spine", (0, 22, 0)),
    ("Neck", "Chest", (0, 22, 0)),
    ("Head", "Neck", (0, 10, 0)),
    *[
        (f"{side}{part}", parent if parent in ("Chest", "Hips") else f"{side}{parent}", (sign * x, y, z))
        for side, sign in (("Left", 1), ("Right", -1))
        for part, parent, (x, y, z) in (
            ("Collar", "Chest", (4, 18, 0)),
            ("UpArm", "Collar", (13, 0, 0)),
            ("LowArm", "UpArm", (28, 0, 0)),
            ("Hand", "LowArm", (25, 0, 0)),
            ("UpLeg", "Hips", (9, -3, 0)),
            ("LowLeg", "UpLeg", (0, -42, 0)),
            ("Foot", "LowLeg", (0, -42, 0)),
            ("Toes", "Foot", (0, -6, 12)),
        )
    ],
]
LIMBS = [
    ("UpArm", "LowArm", "shoulder", "elbow"),
    ("LowArm", "Hand", "elbow", "radiocarpal"),
    ("UpLeg", "LowLeg", "hip", "knee"),
    ("LowLeg", "Foot", "knee", "talocrural"),
]


def other_motion(rename=lambda n: n, frames: int = 5) -> Motion:
    names = [n for n, _, _ in OTHER]
    parents = np.array([-1 if p is None else names.index(p) for _, p, _ in OTHER], np.int32)
    rng = np.random.default_rng(4)
    q = rng.normal(size=(frames, len(names), 4)) * [0.25, 0.25, 0.25, 0.0] + [0, 0, 0, 1]
    q /= np.linalg.norm(q, axis=2, keepdims=True)
    offsets = np.array([o for _, _, o in OTHER], float) / 100
    return Motion("other", tuple(rename(n) for n in names), parents, offsets, q, np.zeros((frames, 3)), 1 / 30)


def places(motion: Motion, frame: int) -> dict[str, np.ndarray]:
    from scipy.spatial.transform import Rotation

    world, turns = {}, {}
    for j, name in enumerate(motion.names):
        local = Rotation.from_quat(motion.rotations[frame, j])
        parent = motion.names[motion.parents[j]] if motion.parents[j] >= 0 else None
        turns[name] = turns[parent] * local if parent else local
        world[name] = world[parent] + turns[parent].apply(motion.offsets[j]) if parent else motion.offsets[j]
    return world


def test_limbs_of_another_skeleton_point_where_they_pointed():
    source = other_motion()
    put = retarget(source, SKELETON)
    for frame in range(len(source.rotations)):
        theirs = places(source, frame)
        ours = world_matrices(SKELETON, put.pose(frame).rotations)[:, :3, 3]
        for side, long in (("l", "Left"), ("r", "Right")):
            for a, b, c, d in LIMBS:
                want = theirs[long + b] - theirs[long + a]
                have = ours[SKELETON.index(f"{side}_{d}")] - ours[SKELETON.index(f"{side}_{c}")]
                cosine = want @ have / np.linalg.norm(want) / np.linalg.norm(have)
                assert np.degrees(np.arccos(min(cosine, 1.0))) < 3.0, (frame, side, a)


@pytest.mark.parametrize(
    "rename",
    [str.lower, lambda n: "rig:" + n.replace("Left", "L_").replace("Right", "R_"), lambda n: f"j{[x for x, _, _ in OTHER].index(n)}"],
    ids=["lower case", "prefixed", "names that say nothing"],
)
def test_joints_are_recognised_by_name_or_by_structure(rename):
    known = map_joints(other_motion(), SKELETON)
    found = map_joints(other_motion(rename), SKELETON)
    for joint in ("l_hip", "r_knee", "l_elbow", "r_shoulder", "l_talocrural", "skullbase"):
        assert found[joint] == rename(known[joint])


def test_a_skeleton_without_limbs_is_refused_with_what_to_do():
    lone = Motion(
        "pole",
        ("a", "b"),
        np.array([-1, 0], np.int32),
        np.array([[0, 0, 0], [0, 1.0, 0]]),
        np.tile([0, 0, 0, 1.0], (2, 2, 1)),
        np.zeros((2, 3)),
        0.04,
    )
    with pytest.raises(InputError, match="Give a map"):
        retarget(lone, SKELETON)


def test_bvh_out_and_in_is_the_same_motion():
    walk = clip_named("walk", SKELETON)
    again = read_bvh(write_bvh(walk), "walk.bvh")
    assert again.names == tuple(walk.names[i] for i in _depth_first(walk))
    wearer = shaped(figure(1), CAST["Corvane"])
    for frame in (0, 9, 20):
        assert np.abs(posed_body(wearer, walk.pose(frame)) - posed_body(wearer, again.pose(frame))).max() < 1e-4


def _depth_first(motion: Motion) -> list[int]:
    out: list[int] = []

    def visit(j: int) -> None:
        out.append(j)
        for k in np.flatnonzero(motion.parents == j):
            visit(int(k))

    visit(0)
    return out


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda t: "", "empty"),
        (lambda t: t.replace("OFFSET", "OFSET", 1), "line 4"),
        (lambda t: t[: len(t) // 3], "ends too early|holds"),
        (lambda t: t.replace("Frames: 28", "Frames: 28000"), "holds"),
        (lambda t: t[:-40] + "nan\n", "finite|holds"),
        (lambda t: t.replace("Xposition", "Wposition", 1), "not known"),
    ],
)
def test_a_damaged_bvh_is_explained(change, says: str):
    text = write_bvh(clip_named("walk", SKELETON)).decode()
    with pytest.raises(InputError, match=says):
        read_bvh(change(text).encode(), "walk.bvh")


@pytest.mark.parametrize("name", list(CLIPS))
def test_a_clip_moves_smoothly(name: str):
    clip = clip_named(name, SKELETON)
    dots = np.abs(np.sum(clip.rotations[1:] * clip.rotations[:-1], axis=2))
    assert np.degrees(2 * np.arccos(np.clip(dots, -1, 1))).max() < 35  # no joint turns farther than this between two frames
    if name in ("walk", "row"):
        assert np.abs(np.abs(np.sum(clip.rotations[0] * clip.rotations[-1], axis=1)) - 1).max() < 5e-3  # it loops


def test_the_range_of_motion_clip_turns_every_joint():
    clip = clip_named("range-of-motion", SKELETON)
    turned = {n for n, q in zip(clip.names, clip.rotations.transpose(1, 0, 2), strict=True) if np.abs(q[:, 3]).min() < 0.999}
    still = set(SKELETON.names) - turned - {"humanoid_root", "sacroiliac"}
    assert still == set()
    assert len(RANGES) >= 25


def test_a_lead_in_starts_at_rest_and_arrives():
    walk = clip_named("walk", SKELETON)
    led = with_lead_in(walk, 12)
    assert len(led.rotations) == len(walk.rotations) + 12
    assert led.pose(0).rotations == {}
    assert np.array_equal(led.rotations[12:], walk.rotations)
