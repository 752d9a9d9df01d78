"""The way a wearer goes while cloth hangs on it: at rest, then smoothly into a pose or through a motion."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..figure.base.pose_types import REST, Pose
from ..figure.base.rotation import IDENTITY
from ..motion.motion import Motion, slerp


@dataclass(frozen=True)
class Passage:
    """`frames` poses, the first of them the rest pose; `at(k)` is the one that ends frame k. From frame `there` on it is the last."""

    frames: int
    at: Callable[[int], Pose]
    there: int = 0


def into_pose(pose: Pose, settle: int, move: int, hang: int) -> Passage:
    """Return the way from rest into a pose: `settle` frames at rest, `move` there, eased in and out, `hang` in it.

    >>> from ..motion.pose_library import pose_named
    >>> into_pose(pose_named("kneel"), settle=10, move=20, hang=5).frames
    35
    """
    if not pose.rotations:
        return Passage(settle + hang, lambda _: REST)

    joints, goal = list(pose.rotations), np.array(list(pose.rotations.values()), float)

    def at(k: int) -> Pose:
        t = float(np.clip((k + 1 - settle) / max(move, 1), 0.0, 1.0))
        if t in (0.0, 1.0):
            return pose if t else REST
        t = t * t * (3 - 2 * t)
        turned = dict(zip(joints, slerp(IDENTITY, goal, np.full(len(goal), t)), strict=True))
        return Pose(f"{pose.name}-{k}", pose.label, pose.family, turned)

    return Passage(settle + move + hang, at, max(settle + move - 1, 0))


def through_motion(motion: Motion, settle: int, lead: int = 0) -> Passage:
    """Return the way through a motion's frames after `settle` frames at rest; its first `lead` come in from rest, its last one holds on."""
    last = len(motion.rotations) - 1
    return Passage(settle + last + 1, lambda k: REST if k < settle else motion.pose(min(k - settle, last)), settle + lead)
