"""How far each joint goes: rotation about axes of the rest pose, degrees, for the left side and the middle.

After the usual tables of active range (American Academy of Orthopaedic Surgeons, 1965), shared out where the figure has more joints
than the table. The right side is the mirror image.
"""

from dataclasses import dataclass

import numpy as np

from ..figure.base.landmarks import landmarks
from ..figure.base.rotation import IDENTITY, inverse, mirrored, product, turn
from ..figure.base.skeleton import quaternion_matrix

_X, _Y, _Z = np.eye(3)
_ARM, _PALM = landmarks({}).arm, landmarks({}).palm
_CURL = np.cross(_PALM, _ARM)
_THUMB = _CURL + 0.6 * _ARM


@dataclass(frozen=True)
class Swing:
    """One way a joint turns: its name, axis (3,) and least and greatest angle in degrees."""

    name: str
    axis: np.ndarray
    low: float
    high: float



def _spine(bend: float, back: float, side: float, twist: float) -> tuple[Swing, ...]:
    return Swing("bend", _X, -back, bend), Swing("lean", _Z, -side, side), Swing("twist", _Y, -twist, twist)


def _curl(low: float, high: float, axis: np.ndarray = _CURL) -> tuple[Swing, ...]:
    return (Swing("curl", axis, low, high),)


RANGES: dict[str, tuple[Swing, ...]] = {
    "vl5": _spine(14, 8, 6, 2), "vl3": _spine(16, 8, 8, 4), "vl1": _spine(14, 8, 8, 6), "vt10": _spine(10, 6, 8, 12),
    "vt6": _spine(8, 6, 6, 14),
    "vt1": _spine(16, 14, 10, 18), "vc4": _spine(20, 20, 14, 28), "skullbase": _spine(16, 22, 10, 20),
    "sternoclavicular": (Swing("swing", _Y, -18, 18), Swing("raise", _Z, -10, 34)),
    "shoulder": (Swing("swing", _Y, -130, 50), Swing("raise", _Z, -60, 132), Swing("twist", _ARM, -80, 80)),
    "shoulder_twist": (Swing("twist", _ARM, -35, 35),),
    "elbow": (Swing("bend", -_PALM, 0, 145),),
    "elbow_twist": (Swing("twist", _ARM, -80, 80),),
    "radiocarpal": (Swing("bend", np.cross(_ARM, _PALM), -70, 75), Swing("lean", _PALM, -20, 30)),
    "hip": (Swing("swing", _X, -120, 25), Swing("spread", _Z, -25, 42), Swing("twist", _Y, -30, 30)),
    "hip_twist": (Swing("twist", _Y, -20, 20),),
    "knee": (Swing("bend", _X, 0, 138),),
    "talocrural": (Swing("point", _X, -22, 46), Swing("roll", _Z, -16, 16)),
    **{f"tail_{n}": (Swing("bend", _X, -40, 40), Swing("sweep", _Y, -40, 40)) for n in range(1, 6)},
    "metatarsophalangeal": (Swing("curl", _X, -55, 30),),
    "carpometacarpal_1": _curl(-12, 34, _THUMB), "metacarpophalangeal_1": _curl(0, 48, _THUMB),
    "carpal_interphalangeal_1": _curl(-8, 66, _THUMB),
    **{f"metacarpophalangeal_{n}": (*_curl(-24, 86), Swing("spread", _PALM, -14, 14)) for n in range(2, 6)},
    **{f"carpal_proximal_interphalangeal_{n}": _curl(0, 100) for n in range(2, 6)},
    **{f"carpal_distal_interphalangeal_{n}": _curl(0, 72) for n in range(2, 6)},
}
"""By joint without its side."""


def swings(joint: str) -> tuple[Swing, ...]:
    """Return the ways a joint turns, the last done first; the root and the pelvis turn freely and have none.

    >>> [swing.name for swing in swings("l_elbow")], swings("humanoid_root")
    (['bend'], ())
    """
    return RANGES.get(joint[2:] if joint[:2] in ("l_", "r_") else joint, ())


def joint_turn(joint: str, degrees: np.ndarray) -> np.ndarray:
    """Return the local rotation `(4,)` of a joint at `degrees` (k,), one for each of its swings.

    Args:
        joint: The name of a joint.
        degrees: (k,) degrees, one for each of its swings.

    >>> joint_turn("l_elbow", np.zeros(len(swings("l_elbow")))).round(6).tolist()
    [0.0, 0.0, 0.0, 1.0]
    """
    q = IDENTITY
    for swing, angle in zip(swings(joint), degrees, strict=True):
        q = product(q, turn(swing.axis, float(angle)))
    return mirrored(q) if joint.startswith("r_") else q


def joint_angles(joint: str, rotation: np.ndarray, near: np.ndarray | None = None) -> np.ndarray:
    """Return the degrees `(k,)`, within the joint's range, whose turn comes nearest to `rotation`.

    Gauss-Newton on the rotation left over, angles held at their limits, from the angles `near` if given; else from the rotation
    seen along each axis and, where a joint with three swings comes to rest elsewhere, from the corners of its range.

    Args:
        joint: The name of a joint.
        rotation: (4,) float, a unit quaternion.
        near: (k,) degrees to look from first.

    >>> joint_angles("l_elbow", np.array([0, 0, 0, 1.0])).round(3)
    array([0.])
    """
    ways = swings(joint)
    wanted = mirrored(np.asarray(rotation, float)) if joint.startswith("r_") else np.asarray(rotation, float)
    low, high = np.array([w.low for w in ways]), np.array([w.high for w in ways])
    axes = np.array([w.axis / np.linalg.norm(w.axis) for w in ways])
    left = joint[2:] if joint.startswith("r_") else joint
    if near is not None:
        return _approach(left, wanted, np.clip(near, low, high), low, high)[0]
    first = np.linalg.lstsq(axes.T, _rotation_vector(wanted), rcond=None)[0]
    starts = [first] if len(ways) < 3 else [first, *(0.5 * (low + high) + 0.35 * (high - low) * np.array(s) for s in _CORNERS)]
    best, best_miss = np.clip(first, low, high), np.inf
    for start in starts:
        angles, miss = _approach(left, wanted, np.clip(start, low, high), low, high)
        if miss < best_miss - 1e-6:
            best, best_miss = angles, miss
        if best_miss < 0.1:
            break
    return best


_CORNERS = [(a, b, c) for a in (-1, 1) for b in (-1, 1) for c in (-1, 1)]


def _approach(joint: str, wanted: np.ndarray, angles: np.ndarray, low: np.ndarray, high: np.ndarray) -> tuple[np.ndarray, float]:
    """Return the angles reached from a start, and the degrees left over."""
    for _ in range(8):
        rest, slope = _left_over(joint, wanted, angles)
        free = ~(((angles <= low) & (rest @ slope < 0)) | ((angles >= high) & (rest @ slope > 0)))
        step = np.zeros(len(angles))
        if free.any():
            step[free] = np.linalg.lstsq(slope[:, free], rest, rcond=None)[0]
        before, angles = angles, np.clip(angles + step, low, high)
        if np.abs(angles - before).max() < 0.05:
            break
    return angles, float(np.linalg.norm(_left_over(joint, wanted, angles)[0]))


def _left_over(joint: str, wanted: np.ndarray, angles: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the rotation (3,) from the joint at `angles` to `wanted`, and how a degree of each swing turns it (3, k): its axis
    as the swings done before it leave it.
    """
    q, axes = IDENTITY, []
    for way, angle in zip(reversed(swings(joint)), angles[::-1], strict=True):
        back = quaternion_matrix(q).T
        axes.append(back @ (way.axis / np.linalg.norm(way.axis)))
        q = product(turn(way.axis, float(angle)), q)
    return _rotation_vector(product(inverse(q), wanted)), np.array(axes[::-1]).T


def within_range(joint: str, rotation: np.ndarray, near: np.ndarray | None = None) -> np.ndarray:
    """Return the rotation `(4,)` nearest to `rotation` that the joint can make, looked for from the angles `near`.

    Args:
        joint: The name of a joint.
        rotation: (4,) float, a unit quaternion.
        near: (k,) degrees to look from first.

    >>> from ..figure.base.rotation import IDENTITY
    >>> within_range("l_elbow", IDENTITY).round(6).tolist()
    [0.0, 0.0, 0.0, 1.0]
    """
    return joint_turn(joint, joint_angles(joint, rotation, near)) if swings(joint) else np.asarray(rotation, float)


def _rotation_vector(q: np.ndarray) -> np.ndarray:
    q = q if q[3] >= 0 else -q
    size = np.linalg.norm(q[:3])
    return np.rad2deg(2 * np.arctan2(size, q[3])) * q[:3] / max(size, 1e-12)
