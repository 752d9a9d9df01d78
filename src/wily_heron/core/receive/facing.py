"""Which way a received piece looks, and whether its file has left and right the other way round."""

from dataclasses import dataclass

import numpy as np

from ..figure.base.skeleton import Skeleton
from ..model.model import Model
from ..motion.retarget import side_of


@dataclass(frozen=True)
class Stance:
    """Whether it must be mirrored across x = 0, whether it must be turned about the upright, and why."""

    mirrored: bool
    turned: bool
    why: str


def guess_stance(model: Model) -> Stance:
    """Return how an upright model stands, from its joints' names and feet; without joints nothing speaks against it.

    A file with left and right swapped is either turned (its toes point backwards too) or written in left-handed axes.
    """
    found = _sides_and_toes(model.skeleton) if model.skeleton is not None else None
    if found is None:
        return Stance(False, False, "nothing speaks against right-handed axes, facing you")
    across, toes, name = found
    if across > 0 and toes >= 0:
        return Stance(False, False, f"the joint {name} lies on the left, as its name says")
    if across > 0:
        return Stance(True, True, f"the joint {name} lies on the left and the toes point back: its axes are left-handed and it is turned")
    if toes <= 0:
        return Stance(False, True, f"the joint {name} lies on the right and the toes do not point forward: it looks away from you")
    return Stance(True, False, f"the joint {name} lies on the right and the toes point forward: its axes are left-handed")


def _sides_and_toes(skeleton: Skeleton) -> tuple[float, float, str] | None:
    """Return how far the left joints lie to +x of the right ones, how far toes lie before ankles, and a left joint's name."""
    sides = [side_of(n) for n in skeleton.names]
    left, right = ([skeleton.positions[i] for i, s in enumerate(sides) if s == side] for side in "lr")
    if len(left) < 2 or len(right) < 2:
        return None
    across = float(np.mean(left, axis=0)[0] - np.mean(right, axis=0)[0])
    toes = 0.0
    for i, name in enumerate(skeleton.names):
        parent = int(skeleton.parents[i])
        if parent >= 0 and any(word in name.lower() for word in ("toe", "ball", "metatars")):
            toes += float(skeleton.positions[i][2] - skeleton.positions[parent][2])
    span = float(np.ptp(skeleton.positions, axis=0).max())
    if abs(across) < 0.01 * span:
        return None
    return across, toes if abs(toes) > 1e-3 * span else 0.0, skeleton.names[sides.index("l")]
