"""Joints of a piece's own: what keeps its form (a button, a sole) or swings (a lantern) while the cloth about it bends."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np

from ..figure.base.skeleton import Skin
from ..motion.spring import Links, Spring, hang, play


@dataclass(frozen=True)
class Riders:
    """A piece's own joints, numbered from `first` on, which is how many the skeleton has.

    Each stands at `places` (r, 3) at rest, which the shapes move by `moves` (s, r, 3), and goes with the skeleton's joints as `skin`
    (r, k) says, by the nearest rotation to their blend about its place. `above` (r,) is the rider it hangs from, -1 for none; one that
    hangs from another, or has a spring, swings by `spring`; `ends` (r, 3) is where it ends at rest.
    """

    places: np.ndarray
    moves: np.ndarray
    skin: Skin
    above: np.ndarray
    ends: np.ndarray
    first: int
    spring: Spring | None = None

    @property
    def main(self) -> np.ndarray:
        """The skeleton's joint (r,) that carries the most of each."""
        return np.take_along_axis(self.skin.joints, np.argmax(self.skin.weights, axis=1)[:, None], axis=1)[:, 0]

    def at(self, change: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return places and ends (r, 3) with the shape values changed by `change` (s,)."""
        move = np.tensordot(change, self.moves.astype(np.float64), axes=1) if len(change) else 0.0
        return self.places + move, self.ends + move

    def moved(self, change: np.ndarray) -> "Riders":
        """Return the same riders resting where shape values changed by `change` (s,) put them."""
        places, ends = self.at(change)
        return replace(self, places=places, ends=ends)

    def arrays(self) -> dict[str, np.ndarray]:
        """Return its arrays by name."""
        return {"places": self.places, "moves": self.moves, "joints": self.skin.joints, "weights": self.skin.weights, "above": self.above,
                "ends": self.ends}

    def notes(self) -> dict[str, Any]:
        """Return where its joints begin, and how they swing."""
        return {"first": self.first, "spring": asdict(self.spring) if self.spring else None}

    @classmethod
    def from_arrays(cls, arrays: Mapping[str, np.ndarray], notes: Any) -> "Riders":
        """Return the riders of `arrays` and `notes`."""
        skin = Skin(arrays["joints"], arrays["weights"])
        spring = Spring(**notes["spring"]) if notes["spring"] else None
        return cls(arrays["places"], arrays["moves"], skin, arrays["above"], arrays["ends"], notes["first"], spring)

    def links(self, change: np.ndarray) -> Links:
        """Return them as links that swing; only where there is a spring."""
        assert self.spring is not None
        return Links(*self.at(change), self.above, self.spring)


def rider_matrices(riders: Riders, change: np.ndarray, matrices: np.ndarray) -> np.ndarray:
    """Return each rider's skin matrix `(r, 4, 4)` in a held pose: as it is carried, or as it hangs there.

    Args:
        riders: Its own joints, if it has any.
        change: (s,) how the shape values have changed.
        matrices: (j, 4, 4) skin matrices of the pose.
    """
    carried = carried_matrices(riders, change, matrices)
    return carried if riders.spring is None else hang(riders.links(change), carried)


def rider_frames(riders: Riders, changes: Sequence[np.ndarray], matrices: Sequence[np.ndarray], seconds: float) -> list[np.ndarray]:
    """Return each rider's skin matrices `(r, 4, 4)` in every frame of a motion, shape values changed as said; springs swing through it."""
    carried = [carried_matrices(riders, change, m) for change, m in zip(changes, matrices, strict=True)]
    return carried if riders.spring is None else play(riders.links(changes[0]), carried, seconds)


def carried_matrices(riders: Riders, change: np.ndarray, matrices: np.ndarray) -> np.ndarray:
    """Return each rider's skin matrix `(r, 4, 4)` as it is carried, before it swings: the blend of `matrices` (j, 4, 4) with its stretch
    and shear taken out about the rider's place. Follows: polar decomposition, as in Shoemake & Duff, Matrix animation, 1992.

    Args:
        riders: Its own joints, if it has any.
        change: (s,) how the shape values have changed.
        matrices: (j, 4, 4) skin matrices of the pose.
    """
    places, _ = riders.at(change)
    blend = np.einsum("rk,rkab->rab", riders.skin.weights.astype(np.float64), matrices[riders.skin.joints])
    u, _, vt = np.linalg.svd(blend[:, :3, :3])
    flip = np.sign(np.linalg.det(u @ vt))
    u[:, :, 2] *= flip[:, None]
    out = np.tile(np.eye(4), (len(places), 1, 1))
    out[:, :3, :3] = u @ vt
    there = np.einsum("rab,rb->ra", blend[:, :3, :3], places) + blend[:, :3, 3]
    out[:, :3, 3] = there - np.einsum("rab,rb->ra", out[:, :3, :3], places)
    return out
