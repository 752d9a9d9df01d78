"""What may change of a body searched for under a piece: shapes, and the joints that stand the limbs."""

from dataclasses import dataclass

import numpy as np

from ...figure.base.shapes import EXTRAS, SHAPES
from ...figure.figure import figure
from ...figure.kept import FIGURE
from ...memo import memoised
from ...motion.ranges import RANGES

_STANCE: dict[str, tuple[str, ...]] = {
    "shoulder": ("swing", "raise"),
    "elbow": ("bend",),
    "hip": ("swing", "spread"),
    "knee": ("bend",),
    "radiocarpal": ("bend", "lean"),
}


@dataclass(frozen=True)
class Free:
    """What may change: shapes (rows of the body's), how far each moves the skin, the joints that turn and what they carry."""

    rows: np.ndarray
    effect: np.ndarray
    deltas: np.ndarray
    flat: np.ndarray
    names: tuple[str, ...]
    joints: np.ndarray
    axes: np.ndarray
    under: np.ndarray
    arms: np.ndarray
    hold: np.ndarray


def posed_axes(world: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the swings' axes and places (k, 3) for the joints' world matrices (j, 4, 4)."""
    may = free()
    return np.einsum("kab,kb->ka", world[may.joints, :3, :3], may.axes), world[may.joints, :3, 3]


@memoised(FIGURE)
def free() -> Free:
    """Return what may change of the level-1 figure: all shapes but those of the face, and the swings of limbs."""
    body = figure(1)
    groups = {s.name: s.group for s in SHAPES}
    rows = [
        i
        for i, n in enumerate(body.shapes)
        if n not in EXTRAS and (groups.get(n) not in (None, "head") or n in ("head_size", "face_width"))
    ]
    deltas = np.ascontiguousarray(body.deltas[rows].transpose(1, 0, 2))
    effect = np.sqrt((deltas.astype(np.float64) ** 2).sum(axis=2).mean(axis=0))
    parents = body.skeleton.parents
    dense = np.zeros((len(body.base), len(parents)))
    for k in range(4):
        np.add.at(dense, (np.arange(len(dense)), body.skin.joints[:, k]), body.skin.weights[:, k])
    below = np.eye(len(parents))
    for j in range(len(parents) - 1, 0, -1):
        below[parents[j]] += below[j]
    names, joints, axes = [], [], []
    for side in ("l_", "r_"):
        for joint, wanted in _STANCE.items():
            for swing in RANGES[joint]:
                if swing.name in wanted:
                    names.append(f"{side}{joint} {swing.name}")
                    joints.append(body.skeleton.index(side + joint))
                    axes.append(swing.axis / np.linalg.norm(swing.axis) * ([1, 1, 1] if side == "l_" else [1, -1, -1]))
    arms = np.array([1.0 if n.endswith("shoulder raise") else 0.0 for n in names])
    hold = np.array([40.0 if "hip" in n or "knee" in n else 1.0 for n in names])  # a skirt says nothing of the legs under it
    return Free(
        np.array(rows),
        effect,
        deltas,
        body.deltas[rows].reshape(len(rows), -1),
        tuple(names),
        np.array(joints),
        np.array(axes),
        dense @ below[joints].T,
        arms,
        hold,
    )


@memoised(FIGURE)
def _joint_ring() -> np.ndarray:
    """Weights (j, n) of the skin about each joint of the level-1 figure."""
    body = figure(1)
    gaps = np.linalg.norm(body.base[None] - body.skeleton.positions[:, None], axis=2)
    near = np.exp(-((gaps / (1.5 * gaps.min(axis=1, keepdims=True) + 0.02)) ** 2))
    return near / near.sum(axis=1, keepdims=True)


def joints_on(points: np.ndarray) -> np.ndarray:
    """Return the joints (j, 3) of the level-1 figure whose vertices lie at `points`: moved as the skin about them."""
    body = figure(1)
    return body.skeleton.positions + _joint_ring() @ (points - body.base)
