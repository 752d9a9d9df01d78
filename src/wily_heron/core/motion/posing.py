"""Posing by hand: dragging a joint to a place, turning one, mirroring a pose and copying a side."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..errors import InputError
from ..figure.base.body import Wearer
from ..figure.base.pose_types import Pose
from ..figure.base.rotation import IDENTITY, between, inverse, mirrored, product
from ..figure.base.skeleton import quaternion_matrix
from .pose import stand_on_floor
from .ranges import joint_angles, joint_turn, swings, within_range

Rotations = Mapping[str, np.ndarray]
_OTHER = {"l_": "r_", "r_": "l_"}
_LIMBS = {"radiocarpal": ("shoulder", "elbow"), "talocrural": ("hip", "knee")}
_LED_BY = {  # the joints that turn, root first, when this one is dragged
    "elbow": ("shoulder",),
    "knee": ("hip",),
    "shoulder": ("sternoclavicular",),
    "metatarsophalangeal": ("talocrural",),
    "metacarpophalangeal_3": ("radiocarpal",),
    "skullbase": ("vt1", "vc4"),
    "vt1": ("vl5", "vl3", "vl1", "vt10", "vt6"),
    "vt6": ("vl5", "vl3", "vl1", "vt10"),
    "tail_5": ("tail_1", "tail_2", "tail_3", "tail_4"),
}
_MIDDLE = ("skullbase", "vt1", "vt6", "tail_5")
ARRIVED = 0.01
"""A dragged joint has arrived when it is within this many metres."""


@dataclass(frozen=True)
class Posed:
    """Local rotations by joint name, and how far (metres) the dragged joint stayed from where it was wanted."""

    rotations: dict[str, np.ndarray]
    short: float = 0.0

    @property
    def reached(self) -> bool:
        """Whether the joint arrived."""
        return self.short <= ARRIVED


def handles() -> tuple[str, ...]:
    """Return the joints that can be dragged."""
    return tuple(f"{s}{j}" for j in (*_LIMBS, *(k for k in _LED_BY if k not in _MIDDLE)) for s in _OTHER) + _MIDDLE


def drag(wearer: Wearer, rotations: Rotations, joint: str, target: np.ndarray) -> Posed:
    """Return the pose in which `joint` stands at `target` (3,), or as near as the joints that lead it allow.

    `target` is in metres on the stage, where the body stands on the floor. A hand or foot takes its limb along (two-bone inverse
    kinematics: the hinge is bent to the distance, then the limb turned to the direction; a foot keeps its slope); other joints are
    swung by those above them. No joint leaves its range. Raises `InputError` for a joint that cannot be dragged.

    Args:
        wearer: The body in its shape, at rest.
        rotations: Quaternions (x, y, z, w) by joint.
        joint: The name of a joint.
        target: (3,) metres on the stage.
    """
    if joint not in handles():
        raise InputError(what=f"{joint} cannot be dragged", where="the pose", todo=f"Drag one of {', '.join(handles())}.")
    wearer.skeleton.index(joint)
    side, plain = (joint[:2], joint[2:]) if joint[:2] in _OTHER else ("", joint)
    goal = np.asarray(target, float) - stand_on_floor(wearer, _pose(rotations))
    now = {name: np.asarray(q, float) for name, q in rotations.items()}
    if plain in _LIMBS:
        root, hinge = (side + j for j in _LIMBS[plain])
        slope = _world_turn(wearer, now, joint)
        _bend_to(wearer, now, root, hinge, joint, goal)
        for _ in range(3):  # a joint at its limit leaves the rest to bend a little more or less
            _swing(wearer, now, root, joint, goal, 1.0)
        if plain == "talocrural":
            above = _world_turn(wearer, now, _parent(wearer, joint))
            now[joint] = within_range(joint, product(inverse(above), slope))
    else:
        leaders = [side + j for j in _LED_BY[plain]]
        for _ in range(6):
            for i, leader in enumerate(leaders):
                _swing(wearer, now, leader, joint, goal, 1.0 / (len(leaders) - i))
            if np.linalg.norm(_place(wearer, now, joint) - goal) < 0.1 * ARRIVED:
                break
    return Posed(now, float(np.linalg.norm(_place(wearer, now, joint) - goal)))


def turned(rotations: Rotations, joint: str, degrees: np.ndarray) -> dict[str, np.ndarray]:
    """Return the pose with one joint at `degrees` (k,) of its swings; raises `InputError` for angles it does not have.

    Args:
        rotations: Quaternions (x, y, z, w) by joint.
        joint: The name of a joint.
        degrees: (k,) degrees, one for each of its swings.
    """
    ways = swings(joint)
    if not ways or len(degrees) != len(ways):
        raise InputError(what=f"{joint} has {len(ways)} angles, not {len(degrees)}", where="the pose", todo="Turn another joint.")
    held = np.clip(degrees, [w.low for w in ways], [w.high for w in ways])
    return {**rotations, joint: joint_turn(joint, held)}


def mirrored_rotations(rotations: Rotations) -> dict[str, np.ndarray]:
    """Return the pose with left and right exchanged.

    >>> bent = turned({}, "l_elbow", np.array([60.0]))
    >>> sorted(mirrored_rotations(bent))
    ['r_elbow']
    """
    return {_OTHER.get(j[:2], j[:2]) + j[2:]: mirrored(np.asarray(q, float)) for j, q in rotations.items()}


def copied_side(rotations: Rotations, side: str) -> dict[str, np.ndarray]:
    """Return the pose with the limbs of `side` ('l' or 'r') on the other side as well; the trunk stays.

    Args:
        rotations: Quaternions (x, y, z, w) by joint.
        side: `l` or `r`.
    """
    kept = {j: np.asarray(q, float) for j, q in rotations.items() if j[:2] != _OTHER[side + "_"]}
    return kept | {_OTHER[j[:2]] + j[2:]: mirrored(q) for j, q in kept.items() if j[:2] == side + "_"}


def angles_of(rotations: Rotations, joint: str) -> np.ndarray:
    """Return the degrees `(k,)` of the joint's swings in the pose.

    Args:
        rotations: Quaternions (x, y, z, w) by joint.
        joint: The name of a joint.

    >>> angles_of(turned({}, "l_elbow", np.array([60.0])), "l_elbow").round(3)
    array([60.])
    """
    return joint_angles(joint, np.asarray(rotations.get(joint, IDENTITY), float))


def _pose(rotations: Rotations) -> Pose:
    return Pose("posing", "Posing", "own", dict(rotations))


def _parent(wearer: Wearer, joint: str) -> str:
    skeleton = wearer.skeleton
    return skeleton.names[skeleton.parents[skeleton.index(joint)]]


def _chain(wearer: Wearer, joint: str) -> list[int]:
    """Return the joints from the root down to `joint`."""
    skeleton, at, chain = wearer.skeleton, wearer.skeleton.index(joint), []
    while at >= 0:
        chain.append(at)
        at = int(skeleton.parents[at])
    return chain[::-1]


def _place(wearer: Wearer, rotations: Rotations, joint: str) -> np.ndarray:
    """Return where the joint stands `(3,)`, its root unlifted."""
    skeleton = wearer.skeleton
    turned, at, before = np.eye(3), np.zeros(3), np.zeros(3)
    for j in _chain(wearer, joint):
        at = at + turned @ (skeleton.positions[j] - before)
        before = skeleton.positions[j]
        if skeleton.names[j] in rotations:
            turned = turned @ quaternion_matrix(rotations[skeleton.names[j]])
    return at


def _world_turn(wearer: Wearer, rotations: Rotations, joint: str) -> np.ndarray:
    """Return the joint's rotation in the world `(4,)`."""
    q = IDENTITY
    for j in _chain(wearer, joint):
        q = product(q, np.asarray(rotations.get(wearer.skeleton.names[j], IDENTITY), float))
    return q


def _bend_to(wearer: Wearer, rotations: dict[str, np.ndarray], root: str, hinge: str, end: str, goal: np.ndarray) -> None:
    """Bend `hinge` so that `end` lies as far from `root` as `goal` does: bisection, the distance falls as the hinge closes."""
    way = swings(hinge)[0]
    low, high = max(way.low, 0.0), way.high
    start = _place(wearer, rotations, root)
    far = np.linalg.norm(goal - start)
    for _ in range(14):
        middle = 0.5 * (low + high)
        rotations[hinge] = joint_turn(hinge, np.array([middle]))
        gap = np.linalg.norm(_place(wearer, rotations, end) - start)
        low, high = (middle, high) if gap > far else (low, middle)


def _swing(wearer: Wearer, rotations: dict[str, np.ndarray], leader: str, joint: str, goal: np.ndarray, share: float) -> None:
    """Turn `leader` so that `joint` points at `goal` from it, by a share of the way, within its range."""
    pivot = _place(wearer, rotations, leader)
    here = _place(wearer, rotations, joint) - pivot
    there = goal - pivot
    if min(np.linalg.norm(here), np.linalg.norm(there)) < 1e-6:
        return
    whole = between(here, there)
    part = np.append(share * whole[:3], (1 - share) + share * whole[3])
    part /= np.linalg.norm(part)
    above = quaternion_matrix(_world_turn(wearer, rotations, _parent(wearer, leader)))
    local = np.append(above.T @ part[:3], part[3])
    now = np.asarray(rotations.get(leader, IDENTITY), float)
    rotations[leader] = within_range(leader, product(local, now), joint_angles(leader, now))
