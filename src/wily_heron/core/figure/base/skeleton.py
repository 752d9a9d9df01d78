"""The skeleton: joints under ISO/IEC 19774 names, world-aligned rest frames, positions that follow the shape."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np
from numba import njit

from ...errors import InputError


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
    """Return the joints' world matrices `(j, 4, 4)` for local quaternions (x, y, z, w) by joint name; `root` moves all.

    Args:
        skeleton: Joints, their parents and places.
        rotations: Quaternions (x, y, z, w) by joint.
        root: (3,) metres that all is moved by.

    >>> from ..figure import figure
    >>> skeleton = figure(1).skeleton
    >>> at_rest = world_matrices(skeleton, {})
    >>> bool(at_rest[skeleton.names.index("skullbase"), 1, 3] > 1.4)  # metres up
    True
    """
    turns = np.zeros((len(skeleton.names), 4))
    turns[:, 3] = 1.0
    for j, name in enumerate(skeleton.names):
        if name in rotations:
            turns[j] = rotations[name]
    out = np.zeros((len(turns), 4, 4))
    at = np.zeros(3) if root is None else np.asarray(root, np.float64)
    _chain(skeleton.parents, np.asarray(skeleton.positions, np.float64), turns, at, out)
    return out


@njit(cache=True, nogil=True)
def _chain(parents, positions, turns, root, out):
    local = np.empty((3, 3))
    for j in range(len(parents)):
        up = parents[j]
        x, y, z, w = turns[j, 0], turns[j, 1], turns[j, 2], turns[j, 3]
        local[0, 0], local[0, 1], local[0, 2] = 1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)
        local[1, 0], local[1, 1], local[1, 2] = 2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)
        local[2, 0], local[2, 1], local[2, 2] = 2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)
        out[j, 3, 3] = 1.0
        for a in range(3):
            if up < 0:
                out[j, a, 3] = positions[j, a] + root[a]
            else:
                out[j, a, 3] = out[up, a, 3]
            for b in range(3):
                if up < 0:
                    out[j, a, b] = local[a, b]
                else:
                    out[j, a, 3] += out[up, a, b] * (positions[j, b] - positions[up, b])
                    out[j, a, b] = out[up, a, 0] * local[0, b] + out[up, a, 1] * local[1, b] + out[up, a, 2] * local[2, b]


def skin_matrices(skeleton: Skeleton, world: np.ndarray) -> np.ndarray:
    """Return `world` (j, 4, 4) times the inverse bind matrices.

    Args:
        skeleton: Joints, their parents and places.
        world: (j, 4, 4) matrices of the joints.
    """
    out = world.copy()
    out[:, :3, 3] -= np.einsum("jab,jb->ja", world[:, :3, :3], skeleton.positions)
    return out


def quaternion_matrix(q: np.ndarray) -> np.ndarray:
    """Return the rotation matrix (3, 3) of a unit quaternion (x, y, z, w).

    >>> quaternion_matrix(np.array([1.0, 0.0, 0.0, 0.0])).round(9).tolist()  # half a turn about x
    [[1.0, 0.0, 0.0], [0.0, -1.0, 0.0], [0.0, 0.0, -1.0]]
    """
    x, y, z, w = q
    return np.array([
        [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
        [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
        [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
    ])
