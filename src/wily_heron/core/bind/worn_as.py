"""Which joints suit a piece by the way it is worn."""

import numpy as np

from ..figure.base.body import Wearer
from ..figure.base.skeleton import Skeleton
from ..mesh.normals import vertex_normals

HEAD = ("skullbase", "vc4", "vt1")
_WAIST = ("humanoid_root", "sacroiliac", "vl5", "vl3")
_SOLE = 0.022
_BEHIND, _BEND = 0.035, 0.05
"""A sole bends from so far behind the ball of the foot, over such a length (metres): as the skin of the foot does."""
_BY_CATEGORY = {"headwear": "head", "hair": "head", "beard": "head", "footwear": "sole"}


def worn_as_of(points: np.ndarray, category: str, wearer: Wearer) -> str:
    """Return how a piece (n, 3) of a category is worn: head, sole, belt or cloth. A low ring about the waist or hips is a belt.

    Args:
        points: (n, 3) float, metres.
        category: What it is: top, bottom, footwear, ...
        wearer: The body in its shape, at rest.
    """
    if category in _BY_CATEGORY:
        return _BY_CATEGORY[category]
    p = np.asarray(points)
    low, high = np.quantile(p[:, 1], (0.02, 0.98))
    skeleton = wearer.skeleton
    marks = skeleton.some(("l_hip", "vt10"))
    if len(marks) < 2:
        return "cloth"
    hip, rib = skeleton.positions[marks, 1]
    across = p[np.abs(p[:, 0]) < 0.05, 2]  # a pair of gloves hangs as low and has nothing before or behind the body
    ring = p[:, 0].min() < -0.08 and p[:, 0].max() > 0.08 and across.min(initial=0.0) < -0.04 and across.max(initial=0.0) > 0.04
    return "belt" if high - low < 0.16 and hip - 0.08 < (low + high) / 2 < rib + 0.05 and ring else "cloth"


def headed(dense: np.ndarray, skeleton: Skeleton) -> None:
    """Leave weights (n, j) only to the head's joints, in place; what had none goes with the skull.

    Args:
        dense: (n, j) weights of all joints.
        skeleton: Joints, their parents and places.
    """
    own = skeleton.some(HEAD)
    if not len(own):
        return
    kept = dense[:, own]
    total = kept.sum(axis=1, keepdims=True)
    dense[:] = 0.0
    dense[:, own] = np.where(total > 1e-3, kept / np.maximum(total, 1e-3), [1.0] + [0.0] * (len(own) - 1))


def waisted(points: np.ndarray, wearer: Wearer) -> np.ndarray:
    """Return weights (n, j) of the trunk at each height, the same all round: a belt goes with the pelvis and does not ripple.

    Args:
        points: (n, 3) float, metres.
        wearer: The body in its shape, at rest.
    """
    skeleton, skin, p = wearer.skeleton, wearer.body.skin, wearer.points
    own = skeleton.some(_WAIST)
    rows = np.flatnonzero(np.isin(skin.joints[:, 0], own))[::2]
    dense = np.zeros((len(rows), len(skeleton.names)))
    np.add.at(dense, (np.repeat(np.arange(len(rows)), skin.joints.shape[1]), skin.joints[rows].ravel()), skin.weights[rows].ravel())
    dense[:, np.setdiff1d(np.arange(dense.shape[1]), own)] = 0.0
    middle = float(np.median(points[:, 1]))
    near = np.exp(-0.5 * ((p[rows, 1] - middle) / 0.03) ** 2)
    mean = near @ dense
    return np.tile(mean / max(mean.sum(), 1e-9), (len(points), 1))


def soled(points: np.ndarray, triangles: np.ndarray, wearer: Wearer, dense: np.ndarray, known: np.ndarray) -> None:
    """Give every sole to its foot's ankle, and before the ball of the foot to the toes, in place: what looks down and lies lowest on its
    side, and the edge above it. Across the foot it is all alike, so that it bends at the ball alone, as footwear does.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        wearer: The body in its shape, at rest.
        dense: (n, j) weights of all joints.
        known: (n,) bool, where weights are given; it is set for the sole.
    """
    for side in ("l_", "r_"):
        sole, ankle = sole_of(points, triangles, side), wearer.skeleton.some((f"{side}talocrural",))
        if not sole.any() or not len(ankle):
            continue
        own, low = points[:, 0] > 0 if side == "l_" else points[:, 0] < 0, float(points[sole, 1].min())
        dense[sole] = 0.0
        dense[sole, ankle[0]] = 1.0
        ball = wearer.skeleton.some((f"{side}metatarsophalangeal",))
        if len(ball):
            back, front = (wearer.skeleton.positions[joint[0], ::2] for joint in (ankle, ball))
            ahead = (points[sole][:, ::2] - front) @ (front - back) / max(float(np.linalg.norm(front - back)), 1e-9)
            share = np.clip((ahead + _BEHIND) / _BEND, 0.0, 1.0)
            dense[sole, ball[0]] = share * share * (3.0 - 2.0 * share)
            dense[sole, ankle[0]] -= dense[sole, ball[0]]
        known |= sole
        known &= ~(own & ~sole & (points[:, 1] < low + _SOLE + 0.025))  # the upper goes over to it smoothly


def sole_of(points: np.ndarray, triangles: np.ndarray, side: str) -> np.ndarray:
    """Return `(n,) bool`: the sole of a piece on one side (l_ or r_): what looks down and lies lowest there, and the edge above it.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        side: `l_` or `r_`.
    """
    own = points[:, 0] > 0 if side == "l_" else points[:, 0] < 0
    if not own.any():
        return own
    low, down = float(points[own, 1].min()), vertex_normals(points, triangles)[:, 1] < -0.7
    return own & ((points[:, 1] < low + _SOLE) | (down & (points[:, 1] < low + 0.05)))
