"""Where the parts of the generated figure lie, as linear functions of its shapes (metres, the figure's left side)."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

ARM_ANGLE = np.deg2rad(42.0)
"""The rest pose is an A: arms this far below horizontal."""


@dataclass(frozen=True)
class Landmarks:
    """Points `(3,)` of the left side; `arm` is the unit direction shoulder to hand, `palm` the back of the hand's normal."""

    shoulder: np.ndarray
    elbow: np.ndarray
    wrist: np.ndarray
    knuckles: np.ndarray
    arm: np.ndarray
    palm: np.ndarray
    hip: np.ndarray
    knee: np.ndarray
    ankle: np.ndarray
    crotch: float
    spread: float


def landmarks(p: Mapping[str, float]) -> Landmarks:
    """Return the landmarks for shape values `p` (missing names count as 0).."""

    def v(name: str) -> float:
        return p.get(name, 0.0)

    arm = np.array([np.cos(ARM_ANGLE), -np.sin(ARM_ANGLE), 0.0])
    spread = 0.020 * v("shoulder") + 0.008 * v("girth") + 0.006 * v("muscle")
    shoulder = np.array([0.172 + spread, 1.378 + 0.003 * v("muscle"), -0.022])
    elbow = shoulder + 0.282 * arm
    wrist = elbow + 0.248 * arm + np.array([0.0, 0.0, 0.012])
    palm = np.array([np.sin(ARM_ANGLE), np.cos(ARM_ANGLE), 0.0])
    hip = np.array([0.088 + 0.010 * v("hip") + 0.011 * v("girth"), 0.900, 0.0])
    knee = np.array([0.093 + 0.006 * v("hip") + 0.010 * v("girth"), 0.474, 0.004])
    ankle = np.array([0.092 + 0.004 * v("girth"), 0.078, -0.024])
    return Landmarks(shoulder, elbow, wrist, wrist + 0.092 * arm, arm, palm, hip, knee, ankle, 0.808, spread)


def finger_joints(finger: int) -> tuple[str, str, str]:
    """Return the three joints of finger 0 (thumb) to 4 (little) without their side."""
    if finger == 0:
        return "carpometacarpal_1", "metacarpophalangeal_1", "carpal_interphalangeal_1"
    n = finger + 1
    return f"metacarpophalangeal_{n}", f"carpal_proximal_interphalangeal_{n}", f"carpal_distal_interphalangeal_{n}"
