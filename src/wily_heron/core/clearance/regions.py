"""Names for places on the body, from the joints that carry them."""

import numpy as np

from ..figure.base.skeleton import Skin
from ..model.riders import Riders

_TRUNK = {
    "humanoid_root": "pelvis", "sacroiliac": "hip", "vl5": "belly", "vl3": "waist", "vl1": "waist", "vt10": "ribs", "vt6": "chest",
    "vt1": "neck base", "vc4": "neck", "skullbase": "head",
}
_LIMB = {
    "sternoclavicular": "shoulder", "shoulder": "shoulder", "shoulder_twist": "upper arm", "elbow": "elbow", "elbow_twist": "forearm",
    "radiocarpal": "hand", "hip": "thigh", "hip_twist": "thigh", "knee": "knee", "talocrural": "foot", "metatarsophalangeal": "toes",
}
_FINGERS = {"1": "thumb", "2": "index finger", "3": "middle finger", "4": "ring finger", "5": "little finger"}


def region_name(joint: str) -> str:
    """Return the plain name of the body region a joint carries, like `left thigh`.

    >>> region_name("l_hip"), region_name("skullbase")
    ('left thigh', 'head')
    """
    if joint in _TRUNK:
        return _TRUNK[joint]
    side, _, rest = joint.partition("_")
    if side in ("l", "r"):
        part = _LIMB.get(rest) or ("hand" if rest.startswith("carpometacarpal_") and rest[-1] != "1" else _FINGERS.get(rest[-1], "hand"))
        return f"{'left' if side == 'l' else 'right'} {part}"
    return joint.replace("_", " ")


def dominant_joint(skin: Skin, rows: np.ndarray, riders: Riders | None = None) -> int:
    """Return the joint of the skeleton with the greatest weight over vertices `rows`; a rider stands for the joint that carries it.

    Args:
        skin: (n, k) joints and weights.
        rows: (r,) int, rows of points.
        riders: Its own joints, if it has any.
    """
    best = int(np.argmax(np.bincount(skin.joints[rows].ravel(), skin.weights[rows].ravel())))
    return best if riders is None or best < riders.first else int(riders.main[best - riders.first])
