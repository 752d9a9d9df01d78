"""Motion: joint rotations over time, on the figure's own joints or on another skeleton's."""

from dataclasses import dataclass

import numpy as np

from ..errors import InputError
from ..figure.base.pose_types import Pose
from ..figure.base.rotation import IDENTITY


@dataclass(frozen=True)
class Motion:
    """Frames on named joints in parent-first order.

    `offsets` (j, 3) are rest places relative to the parent (metres, world-aligned), `rotations` (f, j, 4) local quaternions
    (x, y, z, w), `root` (f, 3) where the root goes from its rest place (metres), `seconds` one frame's length.
    """

    name: str
    names: tuple[str, ...]
    parents: np.ndarray
    offsets: np.ndarray
    rotations: np.ndarray
    root: np.ndarray
    seconds: float

    def __post_init__(self) -> None:
        if not len(self.rotations) or not 1e-4 < self.seconds < 10.0:
            raise InputError(what=f"{len(self.rotations)} frames of {self.seconds:g} s", where=f"the motion {self.name}",
                             todo="Give at least one frame, and a frame time in seconds.")

    def pose(self, frame: int) -> Pose:
        """Return one frame as a pose; joints at rest are left out."""
        kept = {name: q for name, q in zip(self.names, self.rotations[frame], strict=True) if abs(q[3]) < 1.0 - 1e-12}
        return Pose(f"{self.name}-{frame}", f"{self.name}, frame {frame}", "motion", kept)

    def rest_places(self) -> np.ndarray:
        """Return the joints' rest places `(j, 3)` in the world."""
        out = np.zeros((len(self.names), 3))
        for j, parent in enumerate(self.parents):
            out[j] = self.offsets[j] + (out[parent] if parent >= 0 else 0.0)
        return out


def slerp(a: np.ndarray, b: np.ndarray, t: np.ndarray) -> np.ndarray:
    """Return rotations between quaternions `a` and `b` (..., 4) at `t` (...), the short way. Follows: Shoemake 1985.

    >>> from ..figure.base.rotation import turn
    >>> bool(np.allclose(slerp(turn((0, 0, 1), 0.0), turn((0, 0, 1), 80.0), np.array(0.25)), turn((0, 0, 1), 20.0)))
    True
    """
    dot = np.sum(a * b, axis=-1, keepdims=True)
    b = np.where(dot < 0, -b, b)
    angle = np.arccos(np.clip(np.abs(dot), 0.0, 1.0))
    t = np.asarray(t)[..., None]
    near = angle < 1e-6
    sine = np.where(near, 1.0, np.sin(angle))
    out = np.where(near, (1 - t) * a + t * b, (np.sin((1 - t) * angle) * a + np.sin(t * angle) * b) / sine)
    return out / np.linalg.norm(out, axis=-1, keepdims=True)


def with_lead_in(motion: Motion, frames: int) -> Motion:
    """Return the motion with `frames` frames before it that go smoothly from the rest pose to its first."""
    if frames <= 0:
        return motion
    t = np.arange(frames) / frames
    t = t * t * (3 - 2 * t)
    still = np.broadcast_to(IDENTITY, motion.rotations.shape[1:])
    first = motion.rotations[0]
    lead = np.array([slerp(still, first, np.full(len(first), x)) for x in t])
    return Motion(motion.name, motion.names, motion.parents, motion.offsets, np.concatenate([lead, motion.rotations]),
                  np.concatenate([t[:, None] * motion.root[0], motion.root]), motion.seconds)
