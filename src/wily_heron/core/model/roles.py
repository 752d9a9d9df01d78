"""Which joint of a received skeleton does the work of which of ours."""

import re
from collections.abc import Mapping

import numpy as np

from ..errors import InputError
from ..figure.base.skeleton import Skeleton
from ..figure.figure import figure
from ..motion.retarget import map_joints, side_of, still

NEEDED = tuple(f"{side}_{part}" for side in "lr" for part in ("shoulder", "elbow", "hip", "knee"))
"""Without these a body cannot be posed by our poses."""
_FINGERS = (("thumb", 1), ("index|point", 2), ("middle|mid", 3), ("ring", 4), ("little|pinky|small", 5))


def find_roles(skeleton: Skeleton) -> dict[str, str]:
    """Return the joint of `skeleton` for each of our joints that has one: by structure and place, by name where it speaks.

    >>> from ..figure.figure import figure
    >>> found = find_roles(figure(1).skeleton)
    >>> found["l_elbow"], found["skullbase"]
    ('l_elbow', 'skullbase')
    """
    ours = figure(1).skeleton
    found = map_joints(still(skeleton), ours)
    found = {role: name for role, name in found.items() if role in ours.names}
    for role, name in _fingers(skeleton, found).items():
        found.setdefault(role, name)
    one_each: dict[str, str] = {}
    for role, name in found.items():  # a joint has one role, the first found
        if name not in one_each.values():
            one_each[role] = name
    return one_each


def check_roles(skeleton: Skeleton, roles: Mapping[str, str]) -> None:
    """Raise `InputError` for roles that are none of ours, joints that are none of the skeleton's, or limbs left out."""
    for role, name in roles.items():
        figure(1).skeleton.index(role)
        skeleton.index(name)
    if len(set(roles.values())) < len(roles):
        raise InputError(what="a joint has two roles", where="the joint roles", todo="Give each joint one role.")
    missing = [role for role in NEEDED if role not in roles]
    if missing:
        raise InputError(what=f"no joint is the {', '.join(missing)}", where="the joint roles",
                         todo="Choose the joint of each, or let the body have our skeleton.")


def with_roles(skeleton: Skeleton, roles: Mapping[str, str]) -> Skeleton:
    """Return the skeleton with its joints under our names where they have a role; others keep their own."""
    named = {name: role for role, name in roles.items()}
    ours = set(figure(1).skeleton.names)
    names = tuple(named.get(n, f"own_{n}" if n in ours else n) for n in skeleton.names)
    return Skeleton(names, skeleton.parents, skeleton.positions)


def _fingers(skeleton: Skeleton, found: Mapping[str, str]) -> dict[str, str]:
    """Return the finger joints under each hand, by the finger's name and how far along it they are."""
    out: dict[str, str] = {}
    for side in "lr":
        hand = found.get(f"{side}_radiocarpal")
        if hand is None:
            continue
        for words, number in _FINGERS:
            chain = [n for n in skeleton.names if re.search(words, n.lower()) and side_of(n) in ("", side)
                     and _under(skeleton, n, hand)]
            chain.sort(key=lambda n: _depth(skeleton, n))
            ends = [f"{side}_carpometacarpal_1", f"{side}_metacarpophalangeal_1", f"{side}_carpal_interphalangeal_1"] if number == 1 else [
                f"{side}_metacarpophalangeal_{number}", f"{side}_carpal_proximal_interphalangeal_{number}",
                f"{side}_carpal_distal_interphalangeal_{number}"]
            out |= dict(zip(ends, chain, strict=False))
    return out


def _under(skeleton: Skeleton, name: str, above: str) -> bool:
    j = int(skeleton.parents[skeleton.index(name)])
    while j >= 0:
        if skeleton.names[j] == above:
            return True
        j = int(skeleton.parents[j])
    return False


def _depth(skeleton: Skeleton, name: str) -> int:
    j, steps = skeleton.index(name), 0
    while skeleton.parents[j] >= 0:
        j, steps = int(skeleton.parents[j]), steps + 1
    return steps


def role_places(skeleton: Skeleton, roles: Mapping[str, str]) -> dict[str, np.ndarray]:
    """Return where each role stands (3,) metres."""
    return {role: skeleton.positions[skeleton.index(name)] for role, name in roles.items()}
