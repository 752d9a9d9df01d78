"""The clips that ship with the figure, from key poses: walk in place, row, haul, turn, and a range of motion of every joint."""

from collections.abc import Sequence
from itertools import pairwise
from pathlib import Path

import numpy as np

from ..errors import NotFound
from ..figure.base.pose_types import Pose
from ..figure.base.rotation import IDENTITY, mirrored, product, turn
from ..figure.base.skeleton import Skeleton
from .motion import Motion, slerp
from .pose_library import POSES, read_poses
from .posing import mirrored_rotations
from .ranges import RANGES

FPS = 24
_KEYS = read_poses(Path(__file__).with_name("clip_keys.toml"))


def _mirrored(pose: Pose) -> Pose:
    return Pose(pose.name, pose.label, pose.family, mirrored_rotations(pose.rotations))


def between_keys(name: str, skeleton: Skeleton, keys: Sequence[tuple[int, Pose]], loops: bool = False) -> Motion:
    """Return the motion that goes from key to key (frame, pose) along smoothed slerps; a loop ends as it begins."""
    rows = [(f, np.array([p.rotations.get(j, IDENTITY) for j in skeleton.names])) for f, p in keys]
    frames = []
    for (start, a), (stop, b) in pairwise(rows):
        for f in range(start, stop):
            t = (f - start) / (stop - start)
            frames.append(slerp(a, b, np.full(len(a), t * t * (3 - 2 * t))))
    if not loops:
        frames.append(rows[-1][1])
    parents = skeleton.parents
    offsets = skeleton.positions - np.where(parents[:, None] >= 0, skeleton.positions[np.maximum(parents, 0)], 0.0)
    return Motion(name, skeleton.names, parents, offsets, np.array(frames), np.zeros((len(frames), 3)), 1 / FPS)


def _walk(skeleton: Skeleton) -> Motion:
    reach, passing = _KEYS["reach"], _KEYS["passing"]
    keys = [(0, reach), (7, passing), (14, _mirrored(reach)), (21, _mirrored(passing)), (28, reach)]
    return between_keys("walk", skeleton, keys, loops=True)


def _row(skeleton: Skeleton) -> Motion:
    catch, finish = POSES["row-catch"], POSES["row-finish"]
    return between_keys("row", skeleton, [(0, catch), (22, finish), (30, finish), (60, catch)], loops=True)


def _haul(skeleton: Skeleton) -> Motion:
    keys = [
        (0, POSES["stand"]),
        (20, POSES["lift"]),
        (28, POSES["lift"]),
        (48, POSES["carry"]),
        (66, POSES["haul-sack"]),
        (84, POSES["haul-sack"]),
    ]
    return between_keys("haul", skeleton, keys)


def _turn(skeleton: Skeleton) -> Motion:
    def at(degrees: float, pose: Pose) -> Pose:
        root = product(turn((0, 1, 0), degrees), np.asarray(pose.rotations.get("humanoid_root", IDENTITY)))
        return Pose(pose.name, pose.label, "clip", {**pose.rotations, "humanoid_root": root})

    look, lifted = _KEYS["look"], _KEYS["step"]
    keys = [
        (0, POSES["stand"]),
        (12, look),
        (24, at(60, lifted)),
        (36, at(110, POSES["stand"])),
        (48, at(150, _mirrored(lifted))),
        (60, at(180, POSES["stand"])),
    ]
    return between_keys("turn", skeleton, keys)


def _range_of_motion(skeleton: Skeleton) -> Motion:
    """Swing every joint to both ends of its range about each axis, left and right together."""
    stand, keys, frame = Pose("start", "Start", "clip"), [], 0
    keys.append((frame, stand))
    for joint, ways in RANGES.items():
        if joint not in skeleton.names and f"l_{joint}" not in skeleton.names:
            continue
        for way in ways:
            for degrees in (way.low, way.high):
                if abs(degrees) < 4:
                    continue
                q = turn(way.axis, degrees)
                sides = {joint: q} if joint in skeleton.names else {f"l_{joint}": q, f"r_{joint}": mirrored(q)}
                frame += 8
                keys.append((frame, Pose("swing", "Swing", "clip", sides)))
        frame += 8
        keys.append((frame, stand))
    return between_keys("range-of-motion", skeleton, keys)


CLIPS = {"walk": _walk, "row": _row, "haul": _haul, "turn": _turn, "range-of-motion": _range_of_motion}


def clip_named(name: str, skeleton: Skeleton) -> Motion:
    """Return a shipped clip on `skeleton`; raises `InputError` for an unknown name.

    >>> from ..figure.figure import figure
    >>> walk = clip_named("walk", figure(1).skeleton)
    >>> len(walk.rotations) > 20
    True
    """
    if name not in CLIPS:
        raise NotFound(
            what=f"there is no clip called '{name}'", where="the clips", todo=f"The clips are {', '.join(CLIPS)}, or give a .bvh."
        )
    return CLIPS[name](skeleton)
