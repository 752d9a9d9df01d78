"""Our figure brought roughly onto another body, bone by bone: where registration starts."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..figure.base.body import Body
from ..figure.base.rotation import between
from ..figure.base.skeleton import Skeleton, quaternion_matrix

_NEXT = {
    "humanoid_root": "vl5", "sacroiliac": "vl5", "vl5": "vl3", "vl3": "vl1", "vl1": "vt10", "vt10": "vt6", "vt6": "vt1", "vt1": "vc4",
    "vc4": "skullbase",
} | {f"{s}_{a}": f"{s}_{b}" for s in "lr" for a, b in (
    ("sternoclavicular", "shoulder"), ("shoulder", "elbow"), ("elbow", "radiocarpal"), ("radiocarpal", "metacarpophalangeal_3"),
    ("hip", "knee"), ("knee", "talocrural"), ("talocrural", "metatarsophalangeal"), ("carpometacarpal_1", "metacarpophalangeal_1"),
    ("metacarpophalangeal_1", "carpal_interphalangeal_1"),
    *((f"metacarpophalangeal_{n}", f"carpal_proximal_interphalangeal_{n}") for n in range(2, 6)),
    *((f"carpal_proximal_interphalangeal_{n}", f"carpal_distal_interphalangeal_{n}") for n in range(2, 6)))}


@dataclass(frozen=True)
class BoneStart:
    """The figure's vertices (n, 3) and joints (j, 3) on the other body's bones."""

    points: np.ndarray
    joints: np.ndarray


def bone_start(body: Body, places: Mapping[str, np.ndarray], top: float) -> BoneStart:
    """Return `body` with every bone turned and stretched onto `places` (3,) by joint name; `top` is the other's highest point (metres).

    Joints between two that are known lie between them as on our body; those beyond the last known go with it.

    Args:
        body: The body, in any shape.
        places: (3,) metres by joint.
        top: The height of the other body, metres.
    """
    s = body.skeleton
    known = {s.index(name): np.asarray(place, float) for name, place in places.items() if name in s.names}
    size = _overall(s, known)
    joints = _placed(s, known, size)
    turns, scales = _frames(s, joints, set(known), size)
    head = s.index("skullbase")
    reach = float(body.base[:, 1].max() - s.positions[head][1])
    scales[head] = float(np.clip((top - joints[head][1]) / reach, 0.6 * size, 1.8 * size))
    matrix = turns * scales[:, None, None]
    shift = joints - np.einsum("jab,jb->ja", matrix, s.positions)
    share = body.skin.weights.astype(np.float64)
    linear = np.einsum("nk,nkab->nab", share, matrix[body.skin.joints])
    moved = np.einsum("nk,nka->na", share, shift[body.skin.joints])
    return BoneStart(np.einsum("nab,nb->na", linear, body.base.astype(np.float64)) + moved, joints)


def _overall(s: Skeleton, known: Mapping[int, np.ndarray]) -> float:
    rows = list(known)
    ours, theirs = s.positions[rows], np.array([known[r] for r in rows])
    spread = np.linalg.norm(ours - ours.mean(axis=0), axis=1).sum()
    return float(np.linalg.norm(theirs - theirs.mean(axis=0), axis=1).sum() / max(spread, 1e-9))


def _placed(s: Skeleton, known: Mapping[int, np.ndarray], size: float) -> np.ndarray:
    count = len(s.names)
    out, done = np.zeros((count, 3)), np.zeros(count, bool)
    for j, place in known.items():
        out[j], done[j] = place, True
    for j in range(count):
        if done[j]:
            continue
        above = int(s.parents[j])
        while above >= 0 and above not in known:
            above = int(s.parents[above])
        below = next((k for k in range(j + 1, count) if k in known and _descends(s, k, j)), -1)
        if above >= 0 and below >= 0:
            a, b = s.positions[above], s.positions[below]
            t = float(np.dot(s.positions[j] - a, b - a) / max(np.dot(b - a, b - a), 1e-12))
            bow = s.positions[j] - (a + t * (b - a))
            out[j] = known[above] + t * (known[below] - known[above]) + size * bow
        elif below >= 0:  # above the topmost known joint, such as the root: as far from it as on our body
            out[j] = known[below] + size * (s.positions[j] - s.positions[below])
        else:
            parent = int(s.parents[j])
            grand = int(s.parents[parent])
            turn = np.eye(3)
            if grand >= 0 and np.linalg.norm(out[parent] - out[grand]) > 1e-6:
                turn = quaternion_matrix(between(s.positions[parent] - s.positions[grand], out[parent] - out[grand]))
            out[j] = out[parent] + size * turn @ (s.positions[j] - s.positions[parent])
        done[j] = True
    return out


def _descends(s: Skeleton, joint: int, above: int) -> bool:
    while joint > above:
        joint = int(s.parents[joint])
    return joint == above


def _frames(s: Skeleton, joints: np.ndarray, known: set[int], size: float) -> tuple[np.ndarray, np.ndarray]:
    turns, scales = np.tile(np.eye(3), (len(joints), 1, 1)), np.full(len(joints), size)
    for j, name in enumerate(s.names):
        parent = int(s.parents[j])
        above = turns[parent] if parent >= 0 else _pelvis(s, joints)
        turns[j], scales[j] = above, scales[parent] if parent >= 0 else size
        end = s.names.index(_NEXT[name]) if name in _NEXT else -1
        if name.endswith("_twist") or end < 0 or ("radiocarpal" in name and end not in known):
            continue
        mine, theirs = s.positions[end] - s.positions[j], joints[end] - joints[j]
        length = float(np.linalg.norm(theirs))
        if length < 1e-6:
            continue
        turns[j] = quaternion_matrix(between(above @ mine, theirs)) @ above
        scales[j] = float(np.clip(length / np.linalg.norm(mine), 0.5 * size, 2.0 * size))
    return turns, scales


def _pelvis(s: Skeleton, joints: np.ndarray) -> np.ndarray:
    """Return the turn of the whole about the upright, from hip to hip."""
    left, right = s.index("l_hip"), s.index("r_hip")
    across = joints[left] - joints[right]
    angle = np.arctan2(-across[2], across[0])
    c, w = np.cos(angle), np.sin(angle)
    return np.array([[c, 0, w], [0, 1, 0], [-w, 0, c]])
