"""Shapes that a pose drives: they give back what linear blending takes from a sharply bent elbow or knee.

Driven shapes stand in the body's shape list like all others, so pieces, packs and the stage carry them without knowing why; a pose
sets them by how far their joint is bent. Follows: Lewis, Cordner & Fong, Pose space deformation, 2000, with one example a joint.
"""

import numpy as np

from .base.body import Body, Wearer, morphed
from .base.landmarks import landmarks
from .base.pose_types import Pose
from .base.shape_moves import Ground, Moves, none

DRIVEN = {f"{side}_{part}_bend": f"{side}_{part}" for side in "lr" for part in ("elbow", "knee")}
"""Shape by name, and the joint whose bend drives it: 0 at rest, 1 at 130 degrees."""
_WHOLE = float(np.sin(np.deg2rad(65.0)) ** 2)


def driven_values(body: Body, pose: Pose) -> np.ndarray:
    """Return the shape values (s,) that `pose` adds: sin^2 of half the joint's angle, over its value at 130 degrees."""
    out = np.zeros(len(body.shapes))
    for shape, joint in DRIVEN.items():
        if joint in pose.rotations and shape in body.shapes:
            out[body.shapes.index(shape)] = (1.0 - float(pose.rotations[joint][3]) ** 2) / _WHOLE
    return out


def rest_points(wearer: Wearer, pose: Pose, rows: np.ndarray | slice = slice(None)) -> np.ndarray:
    """Return the body's rest vertices (n, 3) float32, or some `rows` of them, as `pose` shapes them, before they are skinned.

    Args:
        wearer: The body in its shape, at rest.
        pose: Local rotations by joint.
        rows: (r,) int, rows of points.
    """
    return morphed(wearer.points[rows], wearer.body.deltas, driven_values(wearer.body, pose), rows)


def corrective_moves(ground: Ground, shape: str) -> Moves:
    """Return the moves of a driven shape: the outer side of the bend swells across the bone, the inner side a little."""
    joint = DRIVEN[shape]
    side = 1.0 if shape.startswith("l_") else -1.0
    at = ground.place(joint)
    if "elbow" in shape:
        arm = landmarks({}).arm * [side, 1.0, 1.0]
        bone, inner, width, out_gain, in_gain = arm, np.array([0.0, 0.0, 1.0]), 0.034, 0.95, 0.30
        near = ground.carried(f"{joint[:2]}shoulder")
    else:
        bone, inner, width, out_gain, in_gain = np.array([0.0, -1.0, 0.0]), np.array([0.0, 0.0, -1.0]), 0.044, 0.95, 0.30
        near = ground.carried(f"{joint[:2]}hip")
    away = ground.points - at
    along, across = away @ bone, away @ inner
    gain = np.where(across < 0, out_gain, in_gain) * near * np.exp(-0.5 * (along / width) ** 2)
    return (gain * across)[:, None] * inner, none(ground)[1]
