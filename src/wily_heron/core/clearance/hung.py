"""Loose cloth about the legs, hung in a pose: what linear blending stretches between them falls instead."""

from collections.abc import Sequence

import numpy as np

from ..bind.legs import crotch, skirt
from ..drape.drape import Draping
from ..drape.fabric import FABRICS
from ..drape.passage import into_pose
from ..drape.proxy import proxy_of, without
from ..figure.body import Wearer
from ..figure.pose import Pose, pose_matrices
from ..figure.skeleton import Skeleton, Skin
from ..figure.skinning import blended_linear
from ..mesh.edges import edge_lengths, unique_edges
from ..piece.draping import Drape
from ..piece.state import Piece
from ..piece.worn import at_rest, piece_matrices, worn_points
from .untangle import untangled

MOST = 1.4
"""Cloth about the legs may stretch to this many times its length before it is hung."""
_GOAL = 1.35
"""What is hung may stretch to this many times its length, so that it is not hung again."""
_SKIRTED = 0.2
"""A piece of which less than this share hangs about the legs is no skirt: its hem is eased out with the rest of it."""
_LAP = 0.15
"""Metres above the crotch over which cloth is worn the more, the higher."""
_FALL = Drape(settle=4, move=24, hang=12, substeps=12, finer=False, fabric=FABRICS["linen"].model_copy(update={"friction": 0.02}))
_LONGER = 14
"""Frames more, at the most, for cloth that is still too taut or in what is under it."""
_SUNK = 0.0005
"""Metres that it may lie in what is under it."""
_APART = 1.7
"""It keeps so many times as far from itself as cloth does: about an edge of its mesh, so that few faces get through."""
_CLOSER = 0.9
"""Each frame that it is too taut then it keeps so much less apart, down to as far as cloth does: folds that have locked let go."""
_RIDE_UP = 2.0
"""Gravity (m/s2) while it is too taut then: a hem too narrow for the stride rides up."""
_EASE_OFF = -1.0
"""Gravity (m/s2) once it is there: the cloth shares out what is taut rather than dragging on it."""
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

    def stretch(self, points: np.ndarray | None = None) -> float:
        """Return how many times its length the most stretched edge of what hangs is, as it is worn or at `points` (n, 3)."""
        return float(self._stretches(self._posed if points is None else points)[1].max(initial=1.0))

    def _tauter(self, points: np.ndarray, most: float) -> np.ndarray:
        """Return which vertices (n,) of what hangs lie on edges more than `most` times their length at points (n, 3)."""
        edges, times = self._stretches(points)
        out = np.zeros(len(points), bool)
        out[edges[times > most]] = True
        return out

    def _stretches(self, points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return the edges (e, 2) of what hangs, and how many times its length at rest each is at points (n, 3)."""
        edges, _ = unique_edges(self.piece.mesh.triangles)
        edges = edges[self.rows[edges].all(axis=1)]
        return edges, edge_lengths(points, edges) / np.maximum(edge_lengths(self._rest, edges), 1e-6)

    def fallen(self, under: Sequence[Piece] = ()) -> np.ndarray:
        """Return the moves at rest (n, 3) with which, in the pose, what hangs lies as it falls on the legs and on what is `under` it.

        Above the lap it is worn as before. It goes with the wearer from rest into the pose as smooth cloth, so it stays on the side of
        each leg where it was, and is let ease off there; where it has come to lie through itself it is smoothed out.
        """
        skin = self.piece.skin
        assert skin is not None
        worn = np.clip((self._rest[:, 1] - crotch(self.wearer)) / _LAP, 0.0, 1.0)
        worn[on_arms(self.wearer.skeleton, skin) | ((self._rest[:, 1] < crotch(self.wearer) - 0.02) & ~self.rows)] = 1.0
        passage = into_pose(self.pose, _FALL.settle, _FALL.move, _FALL.hang)
        body = self.wearer.body
        legs = without(proxy_of(body), on_arms(self.wearer.skeleton, body.skin))  # an arm that swings past leaves the skirt alone
        falling = Draping(self.piece, self.wearer, _FALL, passage, under, np.where(worn > 0.99, 1.0, 0.5 * worn**2), legs)
        close, falling.cloth.gap = falling.cloth.gap, _APART * falling.cloth.gap
        while falling.done <= passage.there:
            falling.frame()
        falling.cloth.weather.gravity = _EASE_OFF
        kept = points = falling.run()
        now = best = self._faults(falling, points)
        for _ in range(_LONGER):
            if best[0] <= _GOAL and best[1] <= _SUNK:
                break
            taut = now[0] > _GOAL
            falling.cloth.weather.gravity = _RIDE_UP if taut else _EASE_OFF
            if taut:
                falling.cloth.gap = np.maximum(_CLOSER * falling.cloth.gap, close)
            points = falling.frame()
            now = self._faults(falling, points)
            if max(now[0], _GOAL) + 1000 * max(now[1], _SUNK) < max(best[0], _GOAL) + 1000 * max(best[1], _SUNK) - 0.01:
                best, kept = now, points
        most = max(_GOAL, self.stretch(kept))
        kept = untangled(kept, self._posed, self.piece.mesh.triangles, falling.floor(falling.done - 1), lambda p: self._tauter(p, most))
        share = 1.0 - np.clip((worn - 0.5) / 0.49, 0.0, 1.0)
        off = (share**2 * (3 - 2 * share))[:, None] * (kept - self._posed)
        return undone(blended_linear(skin, piece_matrices(self.piece, self.wearer, self.pose, self._matrices)), off)

    def _faults(self, falling: Draping, points: np.ndarray) -> tuple[float, float]:
        """Return the greatest stretch of what hangs, and how deep (metres) it lies in what is under it."""
        return self.stretch(points), max(0.0, -float(falling.off_body(points, falling.done - 1)[self.rows].min(initial=0.0)))


def on_arms(skeleton: Skeleton, skin: Skin) -> np.ndarray:
    """Return `(n,) bool`: what goes with an arm, however low it hangs."""
    arm = np.zeros(max(len(skeleton.names), int(skin.joints.max()) + 1), bool)
    for j, name in enumerate(skeleton.names):
        arm[j] = name.endswith("_shoulder") or (skeleton.parents[j] >= 0 and arm[skeleton.parents[j]])
    return (arm[skin.joints] * skin.weights).sum(axis=1) > 0.2


def undone(linear: np.ndarray, off: np.ndarray) -> np.ndarray:
    """Return the moves at rest (n, 3) that blended matrices (n, 3, 3) carry to moves `off` (n, 3), or nearly where they fold."""
    u, s, v = np.linalg.svd(linear)
    back = s / np.maximum(s**2, _DAMP**2)
    return np.einsum("nba,nb->na", v, back * np.einsum("nba,nb->na", u, off))
