"""Putting another skeleton's motion on the figure: which joint is which, and what each turn means on our bones."""

import re
from collections.abc import Mapping

import numpy as np

from ..errors import InputError
from ..figure.base.pose_types import Pose
from ..figure.base.rotation import between, inverse, product
from ..figure.base.skeleton import Skeleton
from .motion import Motion

_SPINE = ("vl5", "vl3", "vl1", "vt10", "vt6")
_ARM = ("sternoclavicular", "shoulder", "elbow", "radiocarpal")
_LEG = ("hip", "knee", "talocrural", "metatarsophalangeal")
_WORDS = (  # first match wins; longer words stand before the shorter ones they hold
    ("forearm|lowerarm|lower_arm|elbow|radius|ulna", "elbow"), ("clavicle|collar|sternoclav|scapula", "sternoclavicular"),
    ("upperarm|upper_arm|humerus", "shoulder"), ("hand|wrist|carpus|radiocarpal", "radiocarpal"),
    ("upleg|upperleg|upper_leg|thigh|femur", "hip"), ("lowleg|lowerleg|lower_leg|shin|calf|tibia|knee", "knee"),
    ("toe|ball|metatars", "metatarsophalangeal"), ("foot|ankle|talo", "talocrural"), ("head|skull", "skullbase"), ("neck|cerv", "vc4"),
)
_HELPER = re.compile(r"twist|roll|helper|_ik|pole|end$")
"""Joints that help another and have no work of their own."""


def side_of(name: str) -> str:
    """Return "l", "r" or "" for a joint by its name.

    >>> side_of("LeftArm"), side_of("Thigh.R"), side_of("Spine1")
    ('l', 'r', '')
    """
    plain = re.sub(r"([a-z])([A-Z])", r"\1_\2", name.split(":")[-1]).lower()
    if re.search(r"(^|_|\.|-| )(left|lft|l)(_|\.|-| |$)", plain) or plain.startswith("left"):
        return "l"
    if re.search(r"(^|_|\.|-| )(right|rgt|r)(_|\.|-| |$)", plain) or plain.startswith("right"):
        return "r"
    return ""


def map_joints(motion: Motion, skeleton: Skeleton) -> dict[str, str]:
    """Return the source's joint for each of our joints that has one: by name where it speaks, by structure where it does not.

    Structure: from the root two chains go down (legs) and one up; where that one parts again are the arms and the neck. Left is +x.
    """
    same = {name: name for name in skeleton.names if name in motion.names}
    if len(same) > len(skeleton.names) / 2:  # it is ours already
        return same
    out = _by_structure(motion)
    spoken: dict[str, str] = {}
    for name in motion.names:
        if _HELPER.search(name.lower()):
            continue
        plain = re.sub(r"([a-z])([A-Z])", r"\1_\2", name.split(":")[-1]).lower()
        joint = next((ours for words, ours in _WORDS if re.search(words, plain) or re.search(words, plain.replace("_", ""))), None)
        side = side_of(name)
        if joint in ("skullbase", "vc4") and not side:
            spoken.setdefault(joint, name)
        elif joint and side and joint not in ("skullbase", "vc4"):
            key = f"{side}_{joint}"
            if key not in spoken or _depth(motion, name) < _depth(motion, spoken[key]):
                spoken[key] = name
    taken = set(spoken.values())
    return {role: name for role, name in out.items() if name not in taken} | spoken


def _depth(motion: Motion, name: str) -> int:
    j, steps = motion.names.index(name), 0
    while motion.parents[j] >= 0:
        j, steps = int(motion.parents[j]), steps + 1
    return steps


def _by_structure(motion: Motion) -> dict[str, str]:
    place, out = motion.rest_places(), {}
    children: dict[int, list[int]] = {j: [] for j in range(len(motion.names))}
    helps = [bool(_HELPER.search(n.lower())) for n in motion.names]
    for j, parent in enumerate(motion.parents):
        while parent >= 0 and helps[int(parent)]:  # what hangs from a helper hangs from what it helps
            parent = motion.parents[int(parent)]
        if parent >= 0 and not helps[j]:
            children[int(parent)].append(j)

    def reach(j: int) -> np.ndarray:
        """The far end of the longest chain under a joint."""
        ends, stack = [], [j]
        while stack:
            k = stack.pop()
            ends.append(k)
            stack += children[k]
        return max((place[k] for k in ends), key=lambda p: float(np.linalg.norm(p - place[j])))

    def highest(j: int) -> float:
        return max([float(place[j][1]), *(highest(k) for k in children[j])])

    def chain(j: int, most: int) -> list[int]:
        line = [j]
        while children[line[-1]] and len(line) < most:
            line.append(max(children[line[-1]], key=lambda k: float(np.linalg.norm(reach(k) - place[k])) + 1e-6 * (not children[k])))
        return line

    root = 0
    while len(children[root]) == 1:
        root = children[root][0]
    out["humanoid_root"] = motion.names[root]
    for leg in (k for k in children[root] if highest(k) < place[root][1] + 0.1 and reach(k)[1] < place[root][1] - 0.1):
        line = chain(leg, 4)
        side = "l" if place[line[min(1, len(line) - 1)]][0] > place[root][0] else "r"
        out |= {f"{side}_{ours}": motion.names[k] for ours, k in zip(_LEG, line, strict=False)}
    up = [k for k in children[root] if highest(k) > place[root][1] + 0.1]
    if not up:
        return out
    spine = [up[0]]
    while len(children[spine[-1]]) == 1:
        spine.append(children[spine[-1]][0])
    for i, k in enumerate(spine):
        out[_SPINE[min(int((i + 0.5) * len(_SPINE) / len(spine)), len(_SPINE) - 1)]] = motion.names[k]
    for k in children[spine[-1]]:
        off = reach(k)[0] - place[spine[-1]][0]
        if abs(off) < 0.12:
            neck = chain(k, 6)
            out["vc4"], out["skullbase"] = motion.names[neck[max(len(neck) - 2, 0)]], motion.names[neck[-1]]
            continue
        line = chain(k, 4)
        names = _ARM if abs(place[line[0]][0] - place[spine[-1]][0]) < 0.5 * abs(place[line[1]][0] - place[spine[-1]][0]) else _ARM[1:]
        out |= {f"{'l' if off > 0 else 'r'}_{ours}": motion.names[j] for ours, j in zip(names, line, strict=False)}
    return out


def retarget(motion: Motion, skeleton: Skeleton, joints: Mapping[str, str] | None = None) -> Motion:
    """Return the motion on `skeleton`, by a map of our joints to the source's (found if not given).

    A mapped joint takes the source's world turn, after its rest bone has been turned onto the source's rest bone, so that a source
    resting with arms out and our figure with arms lowered do the same. Twist joints and what is not mapped ride along. The root's
    path is scaled by the height of the hips. Raises `InputError` for a map that names unknown joints or leaves no limb.
    """
    found = dict(joints) if joints is not None else map_joints(motion, skeleton)
    for ours, theirs in found.items():
        skeleton.index(ours)
        if theirs not in motion.names:
            raise InputError(what=f"the motion has no joint '{theirs}'", where=f"the map for {ours}",
                             todo=f"Its joints are {', '.join(motion.names[:12])} ...")
    if sum(j in found for j in ("l_hip", "r_hip", "l_knee", "r_knee", "l_elbow", "r_elbow")) < 4:
        raise InputError(what="arms and legs were not recognised", where=f"the motion {motion.name}",
                         todo="Give a map: a JSON object of our joint names to the file's.")
    source = motion.rest_places()
    at = {ours: motion.names.index(theirs) for ours, theirs in found.items()}
    world = _world_turns(motion)
    names, parents, frames = skeleton.names, skeleton.parents, len(motion.rotations)
    ours = np.zeros((frames, len(names), 4))
    local = np.zeros_like(ours)
    for j, name in enumerate(names):
        parent = ours[:, parents[j]] if parents[j] >= 0 else np.tile([0.0, 0.0, 0.0, 1.0], (frames, 1))
        ours[:, j] = parent
        if name in at:
            fix = _onto(skeleton, source, found, at, name)
            ours[:, j] = [product(q, fix) for q in world[:, at[name]]]
        local[:, j] = [product(inverse(p), q) for p, q in zip(parent, ours[:, j], strict=True)]
    hips = float(np.mean([source[at[j]][1] for j in ("l_hip", "r_hip") if j in at])) - float(source[:, 1].min())
    scale = float(skeleton.positions[skeleton.index("l_hip")][1]) / max(hips, 1e-6)
    offsets = skeleton.positions - np.where(parents[:, None] >= 0, skeleton.positions[np.maximum(parents, 0)], 0.0)
    return Motion(motion.name, names, parents, offsets, local, scale * motion.root, motion.seconds)


def rotations_on(pose: Pose, skeleton: Skeleton, posed_like: Skeleton | None) -> Mapping[str, np.ndarray]:
    """Return the local rotations of `pose` on `skeleton`; where it was made for another skeleton, retargeted by the joints they share."""
    if posed_like is None or not pose.rotations:
        return pose.rotations
    source = still(posed_like)
    for name, q in pose.rotations.items():
        if name in source.names:
            source.rotations[0, source.names.index(name)] = q
    shared = {name: name for name in skeleton.names if name in posed_like.names}
    put = retarget(source, skeleton, shared)
    return put.pose(0).rotations


def still(skeleton: Skeleton) -> Motion:
    """Return one frame of a skeleton at rest."""
    offsets = skeleton.positions - np.where(skeleton.parents[:, None] >= 0, skeleton.positions[np.maximum(skeleton.parents, 0)], 0.0)
    turns = np.zeros((1, len(skeleton.names), 4))
    turns[..., 3] = 1.0
    return Motion("rest", skeleton.names, skeleton.parents, offsets, turns, np.zeros((1, 3)), 1.0 / 24)


def _world_turns(motion: Motion) -> np.ndarray:
    out = np.zeros_like(motion.rotations)
    for j, parent in enumerate(motion.parents):
        turns = motion.rotations[:, j]
        out[:, j] = turns if parent < 0 else [product(p, q) for p, q in zip(out[:, parent], turns, strict=True)]
    return out


_BONES = {"sternoclavicular": "shoulder", "shoulder": "elbow", "elbow": "radiocarpal", "hip": "knee", "knee": "talocrural",
          "talocrural": "metatarsophalangeal"}


def _onto(skeleton: Skeleton, source: np.ndarray, found: Mapping[str, str], at: Mapping[str, int], name: str) -> np.ndarray:
    """Return the turn of our rest bone onto the source's, for limbs; the trunk is upright in both."""
    side, _, part = name.partition("_")
    end = f"{side}_{_BONES.get(part, '')}"
    if part == "radiocarpal":
        return _onto(skeleton, source, found, at, f"{side}_elbow") if f"{side}_elbow" in at else np.array([0.0, 0.0, 0.0, 1.0])
    if part not in _BONES or end not in at:
        return np.array([0.0, 0.0, 0.0, 1.0])
    mine = skeleton.positions[skeleton.index(end)] - skeleton.positions[skeleton.index(name)]
    return between(mine, source[at[end]] - source[at[name]])
