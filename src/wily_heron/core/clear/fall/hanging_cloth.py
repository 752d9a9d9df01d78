"""Loose cloth about the legs, hung in a pose: what linear blending stretches between them falls instead."""

from collections.abc import Sequence
from functools import cached_property

import numpy as np

from ...bind.legs import crotch, skirt
from ...drape.proxy import proxy_of, without
from ...figure.base.body import Wearer
from ...figure.base.skeleton import Skeleton, Skin
from ...figure.base.skinning import blended_linear
from ...model.state import Piece
from ...model.worn import at_rest, piece_matrices, worn_points
from ...motion.pose import Pose, pose_matrices
from ...space.tree import TriangleTree
from .fall import Fall
from .threads import Threads

_SKIRTED = 0.2
"""A piece of which less than this share hangs about the legs is no skirt: its hem is eased out with the rest of it."""
_LAP = 0.15
"""Metres above the crotch over which cloth is worn the more, the higher."""
_DAMP = 0.05
"""Blended matrices are undone no farther than down to this size: joints that turn against one another fold them flat."""


class Hanging:
    """A bound piece on a wearer in a pose, and its vertices `rows` (n,) that hang about both legs, none where it is no skirt."""

    def __init__(self, piece: Piece, wearer: Wearer, pose: Pose) -> None:
        self.piece, self.wearer, self.pose = piece, wearer, pose
        self._rest = at_rest(piece, wearer).astype(np.float64)
        rows = np.zeros(len(self._rest), bool) if piece.skin is None else skirt(self._rest, piece.mesh.triangles, wearer)
        self.rows = rows & (rows.mean() > _SKIRTED)
        self._matrices = pose_matrices(wearer, pose)
        self._posed = worn_points(piece, wearer, pose, self._matrices)

    @cached_property
    def _threads(self) -> Threads:
        return Threads(self._rest, self.piece.mesh.triangles, self.rows)

    def stretch(self, points: np.ndarray | None = None) -> float:
        """Return how many times its length the most stretched edge of what hangs is, as it is worn or at `points` (n, 3)."""
        return self._threads.stretch(self._posed if points is None else points)

    def fallen(self, under: Sequence[Piece] = ()) -> np.ndarray:
        """Return the moves at rest (n, 3) with which, in the pose, what hangs lies as it falls on the legs and on what is `under` it.

        Above the lap it is worn as before. It goes with the wearer from rest into the pose as smooth cloth, so it stays on the side of
        each leg where it was, and is let ease off there; where it has come to lie through itself it is smoothed out.
        """
        skin = self.piece.skin
        assert skin is not None
        worn = np.clip((self._rest[:, 1] - crotch(self.wearer)) / _LAP, 0.0, 1.0)
        worn[on_arms(self.wearer.skeleton, skin) | ((self._rest[:, 1] < crotch(self.wearer) - 0.02) & ~self.rows)] = 1.0
        body = self.wearer.body
        legs = without(proxy_of(body), on_arms(self.wearer.skeleton, body.skin))  # an arm that swings past leaves the skirt alone
        kept = Fall(self.piece, self.wearer, self.pose, self._rest, self._posed, self.rows, worn, legs, under).fallen()
        return self._undone(kept)

    def opened(self, before: np.ndarray, floor: TriangleTree) -> np.ndarray:
        """Return the moves at rest (n, 3) with which, in the pose, what has come to lie through itself since `before` (n, 3) is smoothed
        out, off the `floor`."""
        points, _ = self._threads.off_themselves(self._posed.astype(np.float64), floor, before)
        return self._undone(points)

    def _undone(self, points: np.ndarray) -> np.ndarray:
        """Return the moves at rest (n, 3) that take the piece in the pose to points (n, 3)."""
        assert self.piece.skin is not None
        return undone(blended_linear(self.piece.skin, piece_matrices(self.piece, self.wearer, self.pose, self._matrices)),
                      points - self._posed)


def on_arms(skeleton: Skeleton, skin: Skin) -> np.ndarray:
    """Return `(n,) bool`: what goes with an arm, however low it hangs.

    Args:
        skeleton: Joints, their parents and places.
        skin: (n, k) joints and weights.
    """
    arm = np.zeros(max(len(skeleton.names), int(skin.joints.max()) + 1), bool)
    for j, name in enumerate(skeleton.names):
        arm[j] = name.endswith("_shoulder") or (skeleton.parents[j] >= 0 and arm[skeleton.parents[j]])
    return (arm[skin.joints] * skin.weights).sum(axis=1) > 0.2


def undone(linear: np.ndarray, off: np.ndarray) -> np.ndarray:
    """Return the moves at rest (n, 3) that blended matrices (n, 3, 3) carry to moves `off` (n, 3), or nearly where they fold."""
    size, out = np.abs(np.linalg.det(linear)), np.empty_like(off)
    full = size > _DAMP * np.sum(linear**2, axis=(1, 2))  # the least of their sizes is then more than twice that
    out[full] = np.linalg.solve(linear[full], off[full][:, :, None])[:, :, 0]
    u, s, v = np.linalg.svd(linear[~full])
    back = s / np.maximum(s**2, _DAMP**2)
    out[~full] = np.einsum("nba,nb->na", v, back * np.einsum("nba,nb->na", u, off[~full]))
    return out
