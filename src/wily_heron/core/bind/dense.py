"""Weights as rows of all joints, and back."""

import numpy as np

from ..figure.base.skeleton import Skin
from .weight_kernels import keep_greatest


def dense_of(skin: Skin, count: int) -> np.ndarray:
    """Return weights `(n, count)` of the skeleton's joints; a vertex that goes with a piece's own joint has none.

    Args:
        skin: (n, k) joints and weights.
        count: How many joints the skeleton has.
    """
    out = np.zeros((len(skin.joints), count + 1))
    rows = np.repeat(np.arange(len(skin.joints)), skin.joints.shape[1])
    np.add.at(out, (rows, np.minimum(skin.joints, count).ravel()), skin.weights.ravel())
    return out[:, :count]


def sparse_of(dense: np.ndarray, skin: Skin, rows: np.ndarray) -> Skin:
    """Return `skin` with the weights of vertices `rows` (mask (n,)) taken from `dense` (n, j), as many joints a vertex as before.

    Args:
        dense: (n, j) weights of all joints.
        skin: (n, k) joints and weights.
        rows: (n,) bool, the vertices that are meant.
    """
    joints, weights = skin.joints.copy(), skin.weights.copy()
    most = joints.shape[1]
    some_joints, some_weights = np.empty((int(rows.sum()), most), np.int32), np.empty((int(rows.sum()), most), np.float32)
    keep_greatest(np.ascontiguousarray(dense[rows]), most, some_joints, some_weights)
    joints[rows], weights[rows] = some_joints, some_weights
    return Skin(joints, weights)
