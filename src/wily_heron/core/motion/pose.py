"""A body standing in a pose."""

import numpy as np

from ..figure.base.body import Wearer
from ..figure.base.pose_types import Pose
from ..figure.base.skeleton import Skin, skin_matrices, world_matrices
from ..figure.base.skinning import skin_points
from ..figure.correctives import rest_points
from .retarget import rotations_on

__all__ = ["Pose", "pose_matrices", "posed_body", "stand_on_floor"]


def stand_on_floor(wearer: Wearer, pose: Pose) -> np.ndarray:
    """Return the root move (3,) that puts the lowest of the body's floor vertices on Y = 0 in `pose`."""
    return _to_floor(wearer, pose, skin_matrices(wearer.skeleton, _world(wearer, pose)))


def pose_matrices(wearer: Wearer, pose: Pose) -> np.ndarray:
    """Return the skin matrices `(j, 4, 4)` of `wearer` in `pose`, feet (or knees, or seat) on the floor."""
    matrices = skin_matrices(wearer.skeleton, _world(wearer, pose))
    matrices[:, :3, 3] += _to_floor(wearer, pose, matrices)
    return matrices


def _world(wearer: Wearer, pose: Pose) -> np.ndarray:
    return world_matrices(wearer.skeleton, rotations_on(pose, wearer.skeleton, wearer.body.posed_like))


def _to_floor(wearer: Wearer, pose: Pose, matrices: np.ndarray) -> np.ndarray:
    rows, skin = wearer.body.floor, wearer.body.skin
    if not len(rows):
        return np.zeros(3)
    low = skin_points(rest_points(wearer, pose, rows), Skin(skin.joints[rows], skin.weights[rows]), matrices)
    return np.array([0.0, -float(low[:, 1].min()), 0.0])


def posed_body(wearer: Wearer, pose: Pose) -> np.ndarray:
    """Return the body's vertices `(n, 3) float32` in `pose`.

    >>> from ..figure.base.body import shaped
    >>> from ..figure.figure import figure
    >>> from .pose_library import pose_named
    >>> ibbet = shaped(figure(1), {"stature": 0.3})
    >>> kneeling = posed_body(ibbet, pose_named("kneel"))
    >>> bool(kneeling[:, 1].max() < ibbet.points[:, 1].max() - 0.3), bool(abs(kneeling[:, 1].min()) < 0.02)
    (True, True)
    """
    return skin_points(rest_points(wearer, pose), wearer.body.skin, pose_matrices(wearer, pose))
