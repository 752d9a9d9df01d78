"""Named points on a wearer's skin that a piece can be pinned and snapped to."""


import numpy as np

from ..memo import memoised
from ..space.tree import TriangleTree
from .base.landmarks import landmarks
from .figure import figure
from .kept import FIGURE

_PALM = landmarks({}).palm
_ARM = landmarks({}).arm
_FRONT, _BACK, _OUT, _IN, _UP, _DOWN = np.array([0, 0, 1.0]), np.array([0, 0, -1.0]), np.array([1.0, 0, 0]), np.array(
    [-1.0, 0, 0]), np.array([0, 1.0, 0]), np.array([0, -1.0, 0])

_MIDDLE = {
    "crown": ("skullbase", _UP), "brow": ("skullbase", _FRONT + 0.55 * _UP), "nape": ("vc4", _BACK), "throat": ("vc4", _FRONT),
    "neck back": ("vt1", _BACK), "neck front": ("vt1", _FRONT + 0.35 * _UP), "breastbone": ("vt6", _FRONT), "upper back": ("vt6", _BACK),
    "waist front": ("vl3", _FRONT), "waist back": ("vl3", _BACK), "hip front": ("humanoid_root", _FRONT), "seat": ("humanoid_root", _BACK),
}
_SIDED = {
    "shoulder": ("l_shoulder", _UP + 0.35 * _OUT), "underarm": ("l_shoulder", _DOWN + 0.15 * _IN), "elbow": ("l_elbow", _PALM),
    "inner elbow": ("l_elbow", -_PALM), "wrist": ("l_radiocarpal", _PALM), "inner wrist": ("l_radiocarpal", -_PALM),
    "fingertip": ("l_carpal_distal_interphalangeal_3", _ARM), "thumb tip": ("l_carpal_interphalangeal_1", _ARM + 0.3 * _FRONT),
    "waist": ("vl3", _OUT), "hip": ("l_hip", _OUT), "knee": ("l_knee", _FRONT), "knee back": ("l_knee", _BACK),
    "ankle": ("l_talocrural", _OUT), "inner ankle": ("l_talocrural", _IN), "heel": ("l_talocrural", _BACK + 0.9 * _DOWN),
    "toe": ("l_metatarsophalangeal", _FRONT),
}


@memoised(FIGURE)
def body_landmarks() -> dict[str, int]:
    """Return the vertex of the level-1 figure at each landmark: where a ray from a joint leaves the skin.

    Sided names read "left elbow" and "right elbow"; the figure is symmetric, so right ones lie mirrored.
    """
    body = figure(1)
    tree = TriangleTree(body.base, body.triangles)
    out = {}
    for name, (joint, way) in {**_MIDDLE, **{f"left {n}": at for n, at in _SIDED.items()}}.items():
        out[name] = _where(tree, body.skeleton.positions[body.skeleton.index(joint)], way)
    for name in _SIDED:
        mirrored = tree.points[out[f"left {name}"]] * [-1.0, 1.0, 1.0]
        out[f"right {name}"] = int(np.argmin(np.sum((tree.points - mirrored) ** 2, axis=1)))
    return out


def _where(tree: TriangleTree, start: np.ndarray, way: np.ndarray) -> int:
    way = way / np.linalg.norm(way)
    far = start + 0.6 * way
    crossed, at = [], 0.0
    while True:  # the last skin met on the way out
        reach, hit = tree.first_hits((start + at * way)[None], way[None], 0.6)
        if hit[0] < 0:
            break
        crossed.append(at + reach[0])
        at += reach[0] + 1e-5
    point = start + crossed[0] * way if crossed else far
    return int(np.argmin(np.sum((tree.points - point) ** 2, axis=1)))
