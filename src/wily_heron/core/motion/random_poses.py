"""Poses no one chose: every joint somewhere within its range, by a seed."""

import numpy as np

from ..figure.base.pose_types import Pose
from ..figure.figure import figure
from .ranges import RANGES, joint_turn


def random_poses(count: int, seed: int, share: float = 0.5) -> list[Pose]:
    """Return `count` seeded poses: every joint anywhere within `share` of its range (seldom at its ends), hands held loosely.

    >>> [pose.name for pose in random_poses(2, seed=7)] == [pose.name for pose in random_poses(2, seed=7)]
    True
    """
    rng = np.random.default_rng(seed)
    out = []
    for k in range(count):
        turns = {}
        for joint in figure(1).skeleton.names:
            plain = joint[2:] if joint[:2] in ("l_", "r_") else joint
            ways = RANGES.get(plain, ())
            if ways and "carp" not in plain.replace("radiocarpal", ""):
                part = share * rng.beta(2, 2, len(ways))
                turns[joint] = joint_turn(
                    joint, np.array([(w.high if rng.random() < 0.6 else w.low) * p for w, p in zip(ways, part, strict=True)])
                )
        out.append(Pose(f"seed-{seed}-{k}", f"Seed {seed}, {k}", "random", turns))
    return out
