"""How far each joint goes: rotation about axes of the rest pose, degrees, for the left side and the middle.

After the usual tables of active range (American Academy of Orthopaedic Surgeons, 1965), shared out where the figure has more joints
than the table. The right side is the mirror image.
"""

import numpy as np

from .landmarks import landmarks

_X, _Y, _Z = np.eye(3)
_ARM, _PALM = landmarks({}).arm, landmarks({}).palm
_CURL = np.cross(_PALM, _ARM)
Axes = list[tuple[np.ndarray, tuple[float, float]]]


def _spine(bend: float, back: float, side: float, twist: float) -> Axes:
    return [(_X, (-back, bend)), (_Z, (-side, side)), (_Y, (-twist, twist))]


RANGES: dict[str, Axes] = {
    "vl5": _spine(14, 8, 6, 2), "vl3": _spine(16, 8, 8, 4), "vl1": _spine(14, 8, 8, 6), "vt10": _spine(10, 6, 8, 12),
    "vt6": _spine(8, 6, 6, 14),
    "vt1": _spine(16, 14, 10, 18), "vc4": _spine(20, 20, 14, 28), "skullbase": _spine(16, 22, 10, 20),
    "sternoclavicular": [(_Z, (-10, 34)), (_Y, (-18, 18))],
    "shoulder": [(_Z, (-46, 132)), (_Y, (-118, 40)), (_ARM, (-45, 45))],
    "shoulder_twist": [(_ARM, (-35, 35))],
    "elbow": [(-_PALM, (0, 145))],
    "elbow_twist": [(_ARM, (-80, 80))],
    "radiocarpal": [(np.cross(_ARM, _PALM), (-70, 75)), (_PALM, (-20, 30))],
    "hip": [(_X, (-120, 25)), (_Z, (-25, 42)), (_Y, (-30, 30))],
    "hip_twist": [(_Y, (-20, 20))],
    "knee": [(_X, (0, 138))],
    "talocrural": [(_X, (-22, 46)), (_Z, (-16, 16))],
    "metatarsophalangeal": [(_X, (-55, 30))],
    "carpometacarpal_1": [(_CURL + 0.6 * _ARM, (-12, 34))], "metacarpophalangeal_1": [(_CURL + 0.6 * _ARM, (0, 48))],
    "carpal_interphalangeal_1": [(_CURL + 0.6 * _ARM, (-8, 66))],
    **{f"metacarpophalangeal_{n}": [(_CURL, (-24.0, 86.0)), (_PALM, (-14.0, 14.0))] for n in range(2, 6)},
    **{f"carpal_proximal_interphalangeal_{n}": [(_CURL, (0.0, 100.0))] for n in range(2, 6)},
    **{f"carpal_distal_interphalangeal_{n}": [(_CURL, (0.0, 72.0))] for n in range(2, 6)},
}
"""By joint without its side."""
