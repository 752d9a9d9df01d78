"""Correctives of a piece: moves at rest that certain shapes together, certain poses, or both call for."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..figure.base.rotation import IDENTITY
from ..figure.base.skeleton import Skeleton, Skin

NEAR_REST = 0.01
"""A joint turned by less than this (radians) in every example plays no part in telling poses apart."""
_WIDE = 0.4
"""Wider, and a corrective shows in poses that are as far from its own as rest is; narrower, and it comes in with a start."""
_ALIKE = 0.05
"""Poses nearer than this (radians) in what tells one of them are told by every joint."""


@dataclass(frozen=True)
class Corrective:
    """A corrective by name: it comes in with the product of ramps over `shapes` (name, value at which it is whole; both signs apart),
    times the share of the example pose `pose`, "" for any."""

    name: str
    shapes: tuple[tuple[str, float], ...] = ()
    pose: str = ""


def corrective_notes(correctives: tuple[Corrective, ...]) -> list[tuple[str, list[tuple[str, float]], str]]:
    """Return correctives in plain types."""
    return [(c.name, list(c.shapes), c.pose) for c in correctives]


def noted_correctives(notes: Any) -> tuple[Corrective, ...]:
    """Return the correctives of `corrective_notes`."""
    return tuple(Corrective(name, tuple((s, float(v)) for s, v in shapes), pose) for name, shapes, pose in notes)


@dataclass(frozen=True)
class PoseSpace:
    """Example poses of a piece: on `joints`, each example's turns `(e, j, 4)`, by which of them it is `told` from other poses (e, j), 1
    or 0, and what makes their shares cardinal.

    The share of an example is 1 in its own pose, 0 in every other and at rest, and smooth between: Gaussians of the joints' angles,
    each as wide as two fifths of the way to its nearest neighbour. Follows: Lewis, Cordner & Fong, Pose space deformation, 2000.
    """

    names: tuple[str, ...]
    joints: tuple[str, ...]
    turns: np.ndarray
    relevance: np.ndarray
    width: np.ndarray
    table: np.ndarray

    def arrays(self) -> dict[str, np.ndarray]:
        """Return its arrays by name."""
        return {"turns": self.turns, "told": self.relevance, "width": self.width, "table": self.table}

    def notes(self) -> dict[str, list[str]]:
        """Return the names of its examples and joints."""
        return {"names": list(self.names), "joints": list(self.joints)}

    @classmethod
    def from_arrays(cls, arrays: Mapping[str, np.ndarray], notes: Any) -> "PoseSpace":
        """Return the space of `arrays` and `notes`; in one that tells nothing of it, every joint tells every example."""
        turns = arrays["turns"]
        relevance = arrays.get("told", np.ones(turns.shape[:2]))
        return cls(tuple(notes["names"]), tuple(notes["joints"]), turns, relevance, arrays["width"], arrays["table"])

    @classmethod
    def of(cls, poses: Mapping[str, Mapping[str, np.ndarray]], relevant: Mapping[str, tuple[str, ...]]) -> "PoseSpace":
        """Return the space of poses (turns by joint), each told by its `relevant` joints: those that bear what it moves, and those above.

        Where these turn no further than in another pose, or not at all, every joint tells it.
        """

        def turned(p: Mapping[str, np.ndarray]) -> set[str]:
            return {j for j, q in p.items() if _angle(np.asarray(q), IDENTITY) > NEAR_REST}

        by = {n: set(relevant[n]) if turned(p) & set(relevant[n]) else turned(p) for n, p in poses.items()}
        joints = tuple(sorted({j for p in poses.values() for j in turned(p)}))
        turns = np.array([[np.asarray(p.get(j, IDENTITY), float) for j in joints] for p in poses.values()]).reshape(len(poses), -1, 4)
        relevance = np.array([[float(j in by[n]) for j in joints] for n in poses]).reshape(len(poses), -1)
        return cls.cardinal(tuple(poses), joints, turns, relevance)

    @classmethod
    def cardinal(cls, names: tuple[str, ...], joints: tuple[str, ...], turns: np.ndarray, relevance: np.ndarray) -> "PoseSpace":
        """Return the space whose shares are 1 in their own pose and 0 in the others, from turns and what tells each."""
        every = np.concatenate([np.tile(IDENTITY, (1, len(joints), 1)), turns])
        relevance = np.asarray(relevance, float).copy()
        for e in range(len(names)):
            if np.delete(_apart(every, every[e + 1], relevance[e]), e + 1).min() < _ALIKE:
                relevance[e] = 1.0
        by = np.concatenate([relevance.max(axis=0, keepdims=True), relevance])
        apart = np.array([_apart(every, e, t) for e, t in zip(every, by, strict=True)])  # row: example, column: pose
        np.fill_diagonal(apart, np.inf)
        width = _WIDE * np.maximum(apart.min(axis=1), _ALIKE)
        np.fill_diagonal(apart, 0.0)
        kernel = np.exp(-0.5 * (apart / width[:, None]) ** 2).T
        table = np.asarray(np.linalg.pinv(kernel), float)[:, 1:]
        return cls(names, joints, turns, relevance, width, table)

    def shares(self, rotations: Mapping[str, np.ndarray]) -> np.ndarray:
        """Return each example's share (e,) of a pose, 0 to 1."""
        if not self.joints:
            return np.zeros(len(self.names))
        here = np.array([np.asarray(rotations.get(j, IDENTITY), float) for j in self.joints]).reshape(-1, 4)
        rest = _apart(here[None], np.tile(IDENTITY, (len(self.joints), 1)), self.relevance.max(axis=0))
        apart = np.concatenate([rest, *(_apart(here[None], e, t) for e, t in zip(self.turns, self.relevance, strict=True))])
        return np.clip(np.exp(-0.5 * (apart / self.width) ** 2) @ self.table, 0.0, 1.0)


def _angle(p: np.ndarray, q: np.ndarray) -> float:
    return float(2.0 * np.arccos(min(abs(float(p @ q)), 1.0)))


def _apart(poses: np.ndarray, example: np.ndarray, relevance: np.ndarray) -> np.ndarray:
    """Return how far poses (p, j, 4) lie from an example (j, 4) in the angles of the joints that tell it (j,), radians."""
    angles = 2.0 * np.arccos(np.minimum(np.abs(np.einsum("pja,ja->pj", poses, example)), 1.0))
    return np.sqrt(angles**2 @ relevance)


def relevant_joints(skeleton: Skeleton, skin: Skin, moved: np.ndarray | None = None) -> tuple[str, ...]:
    """Return the joints that bear some of a piece, or of its vertices `moved` (n,) bool, and all above them but the root.

    Args:
        skeleton: Joints, their parents and places.
        skin: (n, k) joints and weights.
        moved: (n,) bool, the vertices that are meant.
    """
    rows = slice(None) if moved is None else moved
    used = np.bincount(np.minimum(skin.joints[rows], len(skeleton.names)).ravel(), skin.weights[rows].ravel(), len(skeleton.names) + 1)
    kept = set(np.flatnonzero(used[:-1] > 0.5).tolist())
    for j in list(kept):
        while skeleton.parents[j] >= 0:
            j = int(skeleton.parents[j])
            kept.add(j)
    return tuple(n for j, n in enumerate(skeleton.names) if j in kept and skeleton.parents[j] >= 0)


def corrective_values(correctives: tuple[Corrective, ...], shape: Mapping[str, float], rotations: Mapping[str, np.ndarray],
                      space: PoseSpace | None) -> np.ndarray:
    """Return how much of each corrective (c,) comes in at shape values by name and joint turns.

    Args:
        correctives: The correctives.
        shape: Shape values by name.
        rotations: Quaternions (x, y, z, w) by joint.
        space: The poses that some of them are for.
    """
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
