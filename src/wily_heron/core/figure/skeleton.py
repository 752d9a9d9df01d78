"""The skeleton: joints under ISO/IEC 19774 names, world-aligned rest frames, positions that follow the shape."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np

from ..errors import InputError


@dataclass(frozen=True)
class Skeleton:
    """Joints in parent-first order: `names`, `parents` (-1 for the root), rest `positions` (j, 3) metres.

    Rest frames are world-aligned, so the inverse bind matrix of a joint is the translation by minus its position.
    """

    names: tuple[str, ...]
    parents: np.ndarray
    positions: np.ndarray

    def index(self, name: str) -> int:
        """Return the index of a joint; raises `InputError` for an unknown name."""
        try:
            return self.names.index(name)
        except ValueError:
            close = [n for n in self.names if name.lower() in n or n in name.lower()][:4]
            hint = f"Perhaps {', '.join(close)}?" if close else "Joint names follow ISO/IEC 19774, like l_elbow or vl3."
            raise InputError(what=f"there is no joint called '{name}'", where="the skeleton", todo=hint) from None


    def some(self, names: Iterable[str]) -> np.ndarray:
        """Return the indices of those of `names` that it has: a body of one's own may lack twist joints."""
        return np.array([self.names.index(n) for n in names if n in self.names], np.int64)


@dataclass(frozen=True)
class Skin:
    """Skin weights: `joints` (n, 4) int32 and `weights` (n, 4) float32; each row sums to 1."""

    joints: np.ndarray
    weights: np.ndarray


def world_matrices(skeleton: Skeleton, rotations: Mapping[str, np.ndarray], root: np.ndarray | None = None) -> np.ndarray:
    """Return the joints' world matrices `(j, 4, 4)` for local quaternions (x, y, z, w) by joint name; `root` moves all."""
    out = np.zeros((len(skeleton.names), 4, 4))
    for j, (name, parent) in enumerate(zip(skeleton.names, skeleton.parents, strict=True)):
        local = np.eye(4)
        offset = skeleton.positions[j] - (skeleton.positions[parent] if parent >= 0 else 0.0)
        local[:3, 3] = offset if parent >= 0 or root is None else offset + root
        if name in rotations:
            local[:3, :3] = quaternion_matrix(rotations[name])
        out[j] = out[parent] @ local if parent >= 0 else local
    return out


def skin_matrices(skeleton: Skeleton, world: np.ndarray) -> np.ndarray:
    """Return `world` (j, 4, 4) times the inverse bind matrices."""
    out = world.copy()
    out[:, :3, 3] -= np.einsum("jab,jb->ja", world[:, :3, :3], skeleton.positions)
    return out


def quaternion_matrix(q: np.ndarray) -> np.ndarray:
    """Return the rotation matrix (3, 3) of a unit quaternion (x, y, z, w)."""
    x, y, z, w = q
    return np.array([
        [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
        [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
        [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
    ])
