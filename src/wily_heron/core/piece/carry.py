"""Rigid pieces carried by one joint."""

import numpy as np

from ..figure.body import Wearer
from ..figure.skeleton import Skin


def carry(count: int, wearer: Wearer, joint: str) -> tuple[Skin, np.ndarray]:
    """Return the skin of `count` vertices that follow `joint` alone, and their shape deltas: the joint's own moves.

    Raises `InputError` for an unknown joint name.
    """
    j = wearer.skeleton.index(joint)
    skin = Skin(np.tile(np.array([j, 0, 0, 0], np.int32), (count, 1)), np.tile(np.array([1, 0, 0, 0], np.float32), (count, 1)))
    deltas = np.repeat(wearer.body.joint_deltas[:, j][:, None], count, axis=1)
    return skin, np.ascontiguousarray(deltas, np.float32)
