"""Poses of one's own: checked where they come in, named after what they are."""

import hashlib
import json
import re
from collections.abc import Mapping, Sequence

import numpy as np

from ..errors import InputError
from ..figure.base.pose_types import Pose
from ..figure.base.shapes import EXTRAS
from ..figure.extras import with_extras
from .pose_library import pose_named

FAMILY = "own"


def checked_rotations(rotations: Mapping[str, Sequence[float]]) -> dict[str, np.ndarray]:
    """Return rotations `(4,)` by joint, made unit length; raises `InputError` for an unknown joint or no rotation.

    >>> checked_rotations({"l_knee": [0.0, 0.0, 0.0, 1.001]})
    {'l_knee': array([0., 0., 0., 1.])}
    """
    skeleton, out = with_extras(EXTRAS, 1).skeleton, {}
    for joint, value in rotations.items():
        q = np.asarray(value, float)
        skeleton.index(joint)
        length = float(np.linalg.norm(q)) if q.shape == (4,) and np.isfinite(q).all() else 0.0
        if not 0.5 < length < 2.0:
            raise InputError(what=f"{joint} has no rotation ({list(value)})", where="the pose",
                             todo="Give each joint a unit quaternion (x, y, z, w).")
        out[joint] = q / length
    return out


def own_pose(label: str, rotations: Mapping[str, Sequence[float]]) -> Pose:
    """Return a pose whose name holds a digest of its rotations: what was measured in it stays true of that name."""
    turns = checked_rotations(rotations)
    kept = {joint: [round(float(x), 6) for x in turns[joint]] for joint in sorted(turns)}
    digest = hashlib.sha256(json.dumps(kept).encode()).hexdigest()[:8]
    slug = re.sub(r"[^a-z0-9]+", "-", label.lower()).strip("-") or "pose"
    return Pose(f"{FAMILY}-{slug}-{digest}", label, FAMILY, {joint: np.array(q) for joint, q in kept.items()})


def pose_for(name: str, rotations: Mapping[str, Sequence[float]] | None) -> Pose:
    """Return the pose given by its rotations, or the library's of that name."""
    return pose_named(name) if rotations is None else Pose(name, name, FAMILY, checked_rotations(rotations))
