"""From body measures to shape: the most natural wearer that meets them, or how near the figure can come."""

from collections.abc import Collection, Mapping
from dataclasses import dataclass

import numpy as np

from ..base.body import Body, shape_values, shaped
from .measures import measure_named, take

WITHIN = 0.005
"""A measure is met when it is within this many metres."""
_STEPS = 24
_WILLING = {  # how readily a shape is used to meet a measure; the others are left alone
    "stature": 1.0,
    "girth": 1.0,
    "muscle": 0.4,
    "frame": 0.5,
    "leg_length": 0.7,
    "limb_length": 0.25,
    "torso_length": 0.6,
    "shoulder": 0.8,
    "shoulder_slope": 0.2,
    "chest_depth": 0.6,
    "bust": 0.8,
    "bust_height": 0.35,
    "waist": 1.0,
    "tiny_waist": 0.25,
    "belly": 0.6,
    "belly_low": 0.3,
    "flank": 0.4,
    "hip": 1.0,
    "seat": 0.7,
    "seat_height": 0.25,
    "back_round": 0.3,
    "neck_length": 0.3,
    "neck_girth": 0.7,
    "upper_arm_length": 0.6,
    "forearm_length": 0.6,
    "upper_arm_girth": 0.7,
    "forearm_girth": 0.7,
    "wrist_girth": 0.7,
    "thigh_length": 0.5,
    "shin_length": 0.5,
    "thigh_girth": 0.7,
    "knee_girth": 0.7,
    "calf_girth": 0.7,
    "ankle_girth": 0.7,
    "head_size": 0.3,
    "hand_size": 0.5,
    "finger_length": 0.3,
    "foot_length": 0.6,
    "foot_width": 0.6,
}


@dataclass(frozen=True)
class Solved:
    """Shape settings that meet the measures, and per measure asked, reached (metres) and whether it is met."""

    shape: dict[str, float]
    goals: dict[str, float]
    reached: dict[str, float]

    def met(self, name: str) -> bool:
        """Return whether the measure is within 5 mm of what was asked."""
        return abs(self.reached[name] - self.goals[name]) <= WITHIN


def solve_measures(
    body: Body, goals: Mapping[str, float], limit: float = 1.0, around: Mapping[str, float] | None = None, keep: Collection[str] = ()
) -> Solved:
    """Return the shape of least effort that has the measures asked for.

    Effort is counted from the settings `around`, in the metric of how willingly a shape is used. Shapes that reach the limit are held
    there and the rest carry on. The tapes' derivatives come from the shape deltas at the points where they lie.

    Args:
        body: The figure.
        goals: Metres by measure.
        limit: Each shape is kept within plus and minus this.
        around: A build to stay near, by shape; the middle if not given.
        keep: Shapes that are not used.

    Raises:
        InputError: There is no such measure.

    Follows: Nocedal & Wright, Numerical Optimization, 2006, ch. 10 (Gauss-Newton).
    """
    names = tuple(goals)
    for name in names:
        measure_named(name)
    target = np.array([goals[n] for n in names])
    willing = np.array([0.0 if s in keep else _WILLING.get(s, 0.0) for s in body.shapes]) ** 2
    start = shape_values(body, around or {})
    value, held = start.copy(), np.zeros(len(willing), bool)
    best, best_miss = value, np.inf
    for _ in range(_STEPS):
        wearer = shaped(body, value)
        taken = take(wearer, names)
        reached = np.array([taken[n].value for n in names])
        miss = float(np.abs(target - reached).max(initial=0.0))
        if miss < best_miss:
            best, best_miss = value.copy(), miss
        if miss < 2e-4:
            break
        slope = np.array([_slope(body, taken[n].tape, wearer.points, taken[n].measure.height) for n in names])
        free = np.where(held, 0.0, willing)
        wanted = target - reached + slope @ ((value - start) * ~held)
        pull = slope * free
        step = pull.T @ np.linalg.solve(pull @ slope.T + 1e-7 * np.eye(len(names)), wanted)
        value = np.where(held, value, start + step)
        over = np.abs(value) > limit
        held |= over
        value = np.clip(value, -limit, limit)
    final = take(shaped(body, best), names)
    shape = {s: round(float(v), 4) for s, v in zip(body.shapes, best, strict=True) if abs(v) > 5e-4}
    return Solved(shape, dict(goals), {n: final[n].value for n in names})


def _slope(body: Body, tape, points: np.ndarray, height: bool) -> np.ndarray:
    """Return `(s,)` how the tape's value changes with each shape, its points held to the edges they lie on."""
    moves = body.deltas[:, tape.a] + tape.t[None, :, None] * (body.deltas[:, tape.b] - body.deltas[:, tape.a])
    if height:
        return moves[:, 0, 1].astype(np.float64)
    line = tape.on(points)
    if tape.closed:
        line = np.vstack([line, line[:1]])
        moves = np.concatenate([moves, moves[:, :1]], axis=1)
    step = np.diff(line, axis=0)
    way = step / np.maximum(np.linalg.norm(step, axis=1, keepdims=True), 1e-12)
    return np.einsum("ka,ska->s", way, np.diff(moves, axis=1))
