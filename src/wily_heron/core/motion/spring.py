"""What hangs on a spring: links that swing about their places, pulled back by stiffness and down by gravity."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..figure.base.rotation_arrays import matrix_turns, turn_matrices
from .spring_kernels import swing

GRAVITY = 9.81
STEP = 1.0 / 240.0
_CALM = 6.0


@dataclass(frozen=True)
class Spring:
    """How links swing: `stiffness` (1/s2, the pull back per radian), `damping` (1/s), `gravity` (1 is the earth's), and the greatest
    angle from where they are carried (radians)."""

    stiffness: float = 20.0
    damping: float = 4.0
    gravity: float = 1.0
    limit: float = 1.4


@dataclass(frozen=True)
class Links:
    """Links in rest: their tops and ends (r, 3), the link each hangs from (r,), -1 for none, and the spring they share."""

    places: np.ndarray
    ends: np.ndarray
    above: np.ndarray
    spring: Spring


class Swinging:
    """Links in motion. Each is a thin rod about its top: stiffness turns it back to how it is carried, gravity (less what its top speeds
    up) to hang, damping stops it; semi-implicit Euler at about 240 steps a second.

    Links stand after those they hang from and do not pull at them: a light chain on a firm hand.
    Follows: the physical pendulum, e.g. Goldstein, Classical Mechanics, chapter 5.
    """

    def __init__(self, links: Links, carried: np.ndarray) -> None:
        self.links = links
        self.turns = matrix_turns(carried[:, :3, :3])
        self.top = _tops(carried, links.places)
        self.speed, self.top_speed = np.zeros((len(self.top), 3)), np.zeros((len(self.top), 3))

    def advance(self, carried: np.ndarray, seconds: float, damping: float | None = None) -> np.ndarray:
        """Move on by one frame while carried to `carried` (r, 4, 4); return the links' skin matrices `(r, 4, 4)`."""
        links, spring = self.links, self.links.spring
        steps = max(1, round(seconds / STEP))
        swing(self.turns, self.speed, self.top, self.top_speed, _tops(carried, links.places), matrix_turns(carried[:, :3, :3]),
              links.places, links.ends, links.above, spring.stiffness, spring.damping if damping is None else damping,
              GRAVITY * spring.gravity, spring.limit, steps, seconds / steps)
        out = np.tile(np.eye(4), (len(self.top), 1, 1))
        out[:, :3, :3] = turn_matrices(self.turns)
        out[:, :3, 3] = self.top - np.einsum("rab,rb->ra", out[:, :3, :3], links.places)
        return out


def hang(links: Links, carried: np.ndarray) -> np.ndarray:
    """Return skin matrices `(r, 4, 4)` of links hanging still in a held pose."""
    state = Swinging(links, carried)
    out = carried
    for _ in range(60):
        before = state.turns.copy()
        out = state.advance(carried, 0.25, max(links.spring.damping, _CALM))
        if np.abs(state.turns - before).max() < 1e-7:
            break
    return out


def play(links: Links, carried: Sequence[np.ndarray], seconds: float) -> list[np.ndarray]:
    """Return the links' skin matrices in every frame of a motion, from hanging still in the first."""
    state = Swinging(links, hang(links, carried[0]))
    return [state.advance(at, seconds) for at in carried]


def _tops(carried: np.ndarray, places: np.ndarray) -> np.ndarray:
    return np.einsum("rab,rb->ra", carried[:, :3, :3], places) + carried[:, :3, 3]
