"""What a shape can do to the finished body without drawing it anew: stretch, thicken, size, tip and push, all linear.

Each function returns the moves of the vertices `(n, 3)` and of the joints `(j, 3)` in metres at shape value +1.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from .skeleton import Skeleton, Skin

Moves = tuple[np.ndarray, np.ndarray]


@dataclass(frozen=True)
class Ground:
    """What the moves are measured on: the base body's vertices, its skin spread over all joints, its skeleton."""

    points: np.ndarray
    share: np.ndarray
    skeleton: Skeleton
    below: np.ndarray
    """`(j, j) bool`: row a holds the joints that hang from a, itself among them."""
    carries: np.ndarray
    """`(j, n)`: how far each vertex moves with a joint and all that hangs from it."""

    @classmethod
    def of(cls, points: np.ndarray, skin: Skin, skeleton: Skeleton) -> "Ground":
        """Return the ground for a body's arrays."""
        count = len(skeleton.names)
        share = np.zeros((len(points), count))
        np.add.at(share, (np.arange(len(points))[:, None], skin.joints), skin.weights)
        below = np.eye(count, dtype=bool)
        for j in range(count - 1, 0, -1):
            below[skeleton.parents[j]] |= below[j]
        return cls(np.asarray(points, np.float64), share, skeleton, below, np.ascontiguousarray(below @ share.T))

    def carried(self, joint: str) -> np.ndarray:
        """Return `(n,)` how far each vertex moves with `joint` and all that hangs from it."""
        return self.carries[self.skeleton.index(joint)]

    def place(self, joint: str) -> np.ndarray:
        """Return the joint's rest position (3,)."""
        return self.skeleton.positions[self.skeleton.index(joint)]


def none(ground: Ground) -> Moves:
    """Return no moves."""
    return np.zeros_like(ground.points), np.zeros_like(ground.skeleton.positions)


def stretch(ground: Ground, start: str, end: str, length: float, direction: ArrayLike | None = None) -> Moves:
    """Lengthen the bone from joint `start` to `end` by `length`; all beyond is carried along."""
    a, b = ground.place(start), ground.place(end)
    bone = b - a
    span = float(bone @ bone)
    way = length * (bone / np.sqrt(span) if direction is None else np.asarray(direction, float))
    beyond = ground.carried(end)
    on_bone = np.clip(ground.carried(start) - beyond, 0.0, 1.0)
    reach = np.clip((ground.points - a) @ bone / span, 0.0, 1.0)
    points = (beyond + on_bone * reach)[:, None] * way
    j, k = ground.skeleton.index(start), ground.skeleton.index(end)
    reach = np.clip((ground.skeleton.positions - a) @ bone / span, 0.0, 1.0)
    joints = np.where(ground.below[k], 1.0, np.where(ground.below[j], reach, 0.0))[:, None] * way
    return points, joints


def thicken(ground: Ground, start: str, end: str, amount: float, middle: float, width: float, squash: ArrayLike = (1, 1, 1)) -> Moves:
    """Swell the limb round the bone `start` to `end` by the fraction `amount` at `middle` (0..1 along it), fading over `width`."""
    a, b = ground.place(start), ground.place(end)
    bone = b - a
    length = np.linalg.norm(bone)
    bone = bone / length
    along = (ground.points - a) @ bone
    out = ground.points - a - along[:, None] * bone
    near = _limb_share(ground, start)
    swell = amount * near * np.exp(-0.5 * ((along / length - middle) / width) ** 2)
    return swell[:, None] * out * np.asarray(squash, float), none(ground)[1]


def _limb_share(ground: Ground, joint: str) -> np.ndarray:
    """Return `(n,)` the share of the joint's whole limb and the trunk joint above it, so that a swelling fades into the trunk."""
    chain = ground.carried(joint)
    parent = ground.skeleton.parents[ground.skeleton.index(joint)]
    side = joint.split("_")[0]
    if ground.skeleton.names[parent].startswith(f"{side}_"):
        chain = np.maximum(chain, ground.share[:, parent] + chain)
    return chain


def size(ground: Ground, joint: str, amount: ArrayLike, pivot: ArrayLike | None = None, soft: float = 0.0) -> Moves:
    """Size all that `joint` carries about its place by the fractions `amount` along x, y, z."""
    centre = ground.place(joint) if pivot is None else np.asarray(pivot, float)
    amount = np.asarray(amount, float)
    carried = ground.carried(joint)
    if soft:
        carried = carried**soft
    points = carried[:, None] * (ground.points - centre) * amount
    inside = ground.below[ground.skeleton.index(joint)]
    joints = np.where(inside[:, None], (ground.skeleton.positions - centre) * amount, 0.0)
    return points, joints


def tip(ground: Ground, joint: str, axis: ArrayLike, degrees: float) -> Moves:
    """Turn all that `joint` carries about it by a small angle, to first order."""
    turn = np.asarray(axis, float) * np.deg2rad(degrees)
    centre = ground.place(joint)
    points = ground.carried(joint)[:, None] * np.cross(turn, ground.points - centre)
    inside = ground.below[ground.skeleton.index(joint)]
    joints = np.where(inside[:, None], np.cross(turn, ground.skeleton.positions - centre), 0.0)
    return points, joints


def push(ground: Ground, centre: ArrayLike, sigma: ArrayLike, way: ArrayLike, both: bool = True, only: str | None = None) -> Moves:
    """Push the skin near `centre` by `way`, fading as a Gaussian of widths `sigma`; on `both` sides as mirror images."""
    move = np.zeros_like(ground.points)
    flip = np.array([-1.0, 1.0, 1.0])
    for mirror in (np.ones(3), flip) if both and abs(np.asarray(centre)[0]) > 1e-9 else (np.ones(3),):
        gap = (ground.points - np.asarray(centre, float) * mirror) / np.asarray(sigma, float)
        move += np.exp(-0.5 * np.sum(gap * gap, axis=1))[:, None] * (np.asarray(way, float) * mirror)
    if only:
        move *= ground.carried(only)[:, None]
    return move, none(ground)[1]


def spread(ground: Ground, centre: ArrayLike, sigma: ArrayLike, amount: ArrayLike, both: bool = True, only: str | None = None) -> Moves:
    """Size the skin near `centre` about it by the fractions `amount`, fading as a Gaussian; on `both` sides as mirror images."""
    move = np.zeros_like(ground.points)
    flip = np.array([-1.0, 1.0, 1.0])
    for mirror in (np.ones(3), flip) if both and abs(np.asarray(centre)[0]) > 1e-9 else (np.ones(3),):
        away = ground.points - np.asarray(centre, float) * mirror
        gap = away / np.asarray(sigma, float)
        move += np.exp(-0.5 * np.sum(gap * gap, axis=1))[:, None] * away * np.asarray(amount, float)
    if only:
        move *= ground.carried(only)[:, None]
    return move, none(ground)[1]


def together(*moves: Moves) -> Moves:
    """Return the sum of several moves."""
    return sum(m[0] for m in moves), sum(m[1] for m in moves)  # type: ignore[return-value]


def scaled(moves: Moves, by: float) -> Moves:
    """Return the moves times `by`."""
    return moves[0] * by, moves[1] * by


def mirrored_moves(moves: Moves, pairs: np.ndarray, joint_pairs: np.ndarray) -> Moves:
    """Return the same moves on the other side."""
    flip = np.array([-1.0, 1.0, 1.0])
    return moves[0][pairs] * flip, moves[1][joint_pairs] * flip
