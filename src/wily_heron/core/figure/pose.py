"""A body standing in a pose."""

import numpy as np

from .body import Wearer
from .correctives import rest_points
from .pose_types import Pose
from .retarget import rotations_on
from .skeleton import Skin, skin_matrices, world_matrices
from .skinning import skin_points

__all__ = ["Pose", "pose_matrices", "posed_body", "stand_on_floor"]


def stand_on_floor(wearer: Wearer, pose: Pose) -> np.ndarray:
    """Return the root move (3,) that puts the lowest of the body's floor vertices on Y = 0 in `pose`."""
    rows, all_skin = wearer.body.floor, wearer.body.skin
    if not len(rows):
        return np.zeros(3)
    skin = Skin(all_skin.joints[rows], all_skin.weights[rows])
    low = skin_points(rest_points(wearer, pose)[rows], skin, skin_matrices(wearer.skeleton, _world(wearer, pose)))
    return np.array([0.0, -float(low[:, 1].min()), 0.0])


def pose_matrices(wearer: Wearer, pose: Pose) -> np.ndarray:
    """Return the skin matrices `(j, 4, 4)` of `wearer` in `pose`, feet (or knees, or seat) on the floor."""
    root = stand_on_floor(wearer, pose)
    return skin_matrices(wearer.skeleton, _world(wearer, pose, root))


def _world(wearer: Wearer, pose: Pose, root: np.ndarray | None = None) -> np.ndarray:
    return world_matrices(wearer.skeleton, rotations_on(pose, wearer.skeleton, wearer.body.posed_like), root)


def posed_body(wearer: Wearer, pose: Pose) -> np.ndarray:
    """Return the body's vertices `(n, 3) float32` in `pose`."""
    return skin_points(rest_points(wearer, pose), wearer.body.skin, pose_matrices(wearer, pose))
