"""Correctives of a piece: moves at rest that certain shapes together, certain poses, or both call for."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..figure.rotation import IDENTITY
from ..figure.skeleton import Skeleton, Skin

NEAR_REST = 0.01
"""A joint turned by less than this (radians) in every example plays no part in telling poses apart."""


@dataclass(frozen=True)
class Corrective:
    """A corrective by name: it comes in with the product of ramps over `shapes` (name, value at which it is whole; both signs apart),
    times the share of the example pose `pose`, "" for any."""

    name: str
    shapes: tuple[tuple[str, float], ...] = ()
    pose: str = ""


@dataclass(frozen=True)
class PoseSpace:
    """Example poses of a piece: on `joints`, each example's turns `(e, j, 4)`, and what makes their shares cardinal.

    The share of an example is 1 in its own pose, 0 in every other and at rest, and smooth between: Gaussians of the joints' angles,
    each as wide as half the way to its nearest neighbour. Follows: Lewis, Cordner & Fong, Pose space deformation, 2000.
    """

    names: tuple[str, ...]
    joints: tuple[str, ...]
    turns: np.ndarray
    width: np.ndarray
    table: np.ndarray

    @classmethod
    def of(cls, poses: Mapping[str, Mapping[str, np.ndarray]], relevant: tuple[str, ...]) -> "PoseSpace":
        """Return the space of poses (turns by joint), told apart on `relevant` joints: those the piece is bound to and those above."""
        named = {j for p in poses.values() for j in p}
        told = relevant if named & set(relevant) else sorted(named)
        joints = tuple(j for j in told if any(_angle(np.asarray(p.get(j, IDENTITY)), IDENTITY) > NEAR_REST for p in poses.values()))
        turns = np.array([[np.asarray(p.get(j, IDENTITY), float) for j in joints] for p in poses.values()])
        turns = turns.reshape(len(poses), len(joints), 4)
        every = np.concatenate([np.tile(IDENTITY, (1, len(joints), 1)), turns])
        apart = np.array([[_apart(a, b) for b in every] for a in every])
        np.fill_diagonal(apart, np.inf)
        width = 0.5 * np.maximum(apart.min(axis=1), 0.05)
        np.fill_diagonal(apart, 0.0)
        kernel = np.exp(-0.5 * (apart / width) ** 2)  # row: pose, column: example
        return cls(tuple(poses), joints, turns, width, np.linalg.pinv(kernel)[:, 1:])

    def shares(self, rotations: Mapping[str, np.ndarray]) -> np.ndarray:
        """Return each example's share (e,) of a pose, 0 to 1."""
        if not self.joints:
            return np.zeros(len(self.names))
        here = np.array([np.asarray(rotations.get(j, IDENTITY), float) for j in self.joints]).reshape(-1, 4)
        every = np.concatenate([np.tile(IDENTITY, (1, len(self.joints), 1)), self.turns])
        apart = np.array([_apart(here, e) for e in every])
        return np.clip(np.exp(-0.5 * (apart / self.width) ** 2) @ self.table, 0.0, 1.0)


def _angle(p: np.ndarray, q: np.ndarray) -> float:
    return float(2.0 * np.arccos(min(abs(float(p @ q)), 1.0)))


def _apart(a: np.ndarray, b: np.ndarray) -> float:
    return float(np.sqrt(sum(_angle(p, q) ** 2 for p, q in zip(a, b, strict=True))))


def relevant_joints(skeleton: Skeleton, skin: Skin) -> tuple[str, ...]:
    """Return the joints a piece is bound to with some weight, and all above them but the root."""
    used = np.bincount(np.minimum(skin.joints, len(skeleton.names)).ravel(), skin.weights.ravel(), minlength=len(skeleton.names) + 1)
    kept = set(np.flatnonzero(used[:-1] > 0.5).tolist())
    for j in list(kept):
        while skeleton.parents[j] >= 0:
            j = int(skeleton.parents[j])
            kept.add(j)
    return tuple(n for j, n in enumerate(skeleton.names) if j in kept and skeleton.parents[j] >= 0)


def corrective_values(correctives: tuple[Corrective, ...], shape: Mapping[str, float], rotations: Mapping[str, np.ndarray],
                      space: PoseSpace | None) -> np.ndarray:
    """Return how much of each corrective (c,) comes in at shape values by name and joint turns."""
    shares = space.shares(rotations) if space is not None and rotations else None
    out = np.zeros(len(correctives))
    for i, c in enumerate(correctives):
        value = 1.0
        for name, whole in c.shapes:
            value *= min(max(shape.get(name, 0.0) / whole, 0.0), 1.5)
        if c.pose:
            value *= float(shares[space.names.index(c.pose)]) if shares is not None and space is not None else 0.0
        out[i] = value
    return out
