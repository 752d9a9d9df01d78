"""Loose cloth let fall into a pose: thinned out, which takes a moment, and only where that ends badly with all its threads."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ...drape.drape import Draping
from ...drape.passage import into_pose
from ...drape.proxy import Proxy
from ...figure.base.body import Wearer
from ...figure.base.skeleton import Skin
from ...mesh.mesh import Mesh
from ...mesh.ops.coarse import Coarse, coarse_of
from ...mesh.rigid_islands import stick_islands, stiff_islands
from ...model.state import Piece
from ...model.steps.draping import Drape
from ...model.steps.fabric import FABRICS
from ...motion.pose import Pose
from ...space.tree import TriangleTree
from .threads import GOAL, Threads

MAX_STRETCH = 1.4
"""Cloth about the legs may stretch to this many times its length before it is hung, and no farther once it has fallen."""
_SIDE = 0.03
"""Metres: a thread of cloth thinned out."""
_OFF, _DEEP = 0.002, 0.012
"""Metres: the whole of it lies so far off what is under it at the least; but what is deeper in it is pinched there."""
_SUNK, _PINCHED = 0.003, 0.1
"""A fall ends badly with vertices deeper (metres) than this, if by more than so many metres in all."""
_LONGER = 14
"""Frames more, at the most, for cloth with threads longer than they are brought to."""
_CLOSER = 0.9
"""Each frame that it is too taut then it keeps so much less apart, down to as far as cloth does: folds that have locked let go."""
_TAUT = 1.2
"""A hem too narrow for the stride rides up while a thread is longer than so many times its length."""
_FALLS, _EASES_OFF = -9.81, -1.0
"""Gravity (m/s2) on the way, and once it is there: the cloth shares out what is taut rather than dragging on it."""
_FAST = 0.99
"""What is worn by more than this share stays as it is worn."""
_ROUNDS = 3


@dataclass(frozen=True)
class _Way:
    """How it falls: `thinned` or not, in which frames, how far it keeps `apart` from itself, in threads where it is thinned, else in what
    cloth does, and by what gravity it rides up."""

    thinned: bool
    step: Drape
    apart: float
    rides_up: float


def _frames(settle: int, move: int, hang: int, substeps: int) -> Drape:
    fabric = FABRICS["linen"].model_copy(update={"friction": 0.02})
    return Drape(settle=settle, move=move, hang=hang, substeps=substeps, finer=False, fabric=fabric)


_WAYS = (
    _Way(True, _frames(2, 20, 6, 8), 0.6, 2.0),
    _Way(True, _frames(2, 28, 10, 10), 0.6, 3.0),
    _Way(True, _frames(4, 32, 16, 12), 0.6, 5.0),
    _Way(True, _frames(4, 48, 24, 16), 0.6, 5.0),
    _Way(False, _frames(4, 24, 12, 12), 1.7, 2.0),
)


class Fall:
    """What of a bound piece hangs, `hangs` (n,), and what is `worn` (n,) by a share, let fall with a wearer from rest, where its points
    are `rest` (n, 3), into a pose, where they are `posed` (n, 3) as it is worn; on the `legs` and what lies `under` it."""

    def __init__(self, piece: Piece, wearer: Wearer, pose: Pose, rest: np.ndarray, posed: np.ndarray, hangs: np.ndarray, worn: np.ndarray,
                 legs: Proxy, under: Sequence[Piece]) -> None:
        self.piece, self.wearer, self.pose, self.legs, self.under = piece, wearer, pose, legs, under
        self.rest, self.posed, self.worn, self.hangs = rest, posed.astype(np.float64), worn, hangs
        self.threads = Threads(rest, piece.mesh.triangles, hangs)
        fast = np.clip((worn - 0.5) / (_FAST - 0.5), 0.0, 1.0)
        self._share = (1.0 - fast**2 * (3 - 2 * fast))[:, None]
        """How much of its fall each vertex (n, 1) takes."""

    def fallen(self) -> np.ndarray:
        """Return where the piece (n, 3) lies in the pose: as the first fall leaves it that ends well, through itself no more than
        before, or the best of them."""
        coarse = self._coarse()
        best, least = None, (np.inf, np.inf)
        for way in _WAYS:
            if (way.thinned and coarse is None) or (not way.thinned and least[0] == 0):
                continue
            points, floor = self._falls(way, coarse if way.thinned else None)
            bad = self._eased(points, floor)
            points, more = self.threads.off_themselves(self.posed + self._share * (points - self.posed), floor, self.posed)
            if (bad, more) < least:
                best, least = points, (bad, more)
            if bad == 0 and more <= 0:
                break
        assert best is not None
        return best

    def _coarse(self) -> Coarse | None:
        """Return the cloth thinned out, nothing where loose panels are sewn to it or its threads are long as they are."""
        mesh = self.piece.mesh
        coarse = coarse_of(mesh.points, mesh.triangles, _SIDE)
        return None if coarse is None or (coarse.apart & ~stiff_islands(self.rest, mesh.triangles)).any() else coarse

    def _falls(self, way: _Way, coarse: Coarse | None) -> tuple[np.ndarray, TriangleTree]:
        """Return where it lies (n, 3) after a fall, and what it lies on."""
        rows, faces = (np.arange(len(self.rest)), self.piece.mesh.triangles) if coarse is None else _about(coarse, self.worn < _FAST)
        piece = self.piece if coarse is None else _part(self.piece, rows, faces)
        threads = self.threads if coarse is None else Threads(self.rest[rows], faces, self.hangs[rows])
        hold = np.where(self.worn > _FAST, 1.0, 0.5 * self.worn**2)[rows]
        passage = into_pose(self.pose, way.step.settle, way.step.move, way.step.hang)
        falling = Draping(piece, self.wearer, way.step, passage, self.under, hold, self.legs)
        cloth, close = falling.cloth, falling.cloth.gap
        cloth.gap = way.apart * (close if coarse is None else np.maximum(float(np.median(threads.long)), close))
        points = falling.points
        while falling.done <= passage.there:
            cloth.weather.gravity = way.rides_up if threads.stretch(points) > _TAUT else _FALLS
            points = falling.frame()
        cloth.weather.gravity = _EASES_OFF
        kept = points = falling.run()
        taut = least = threads.stretch(points)
        for _ in range(_LONGER):
            if taut <= GOAL:
                break
            cloth.weather.gravity, cloth.gap = way.rides_up, np.maximum(_CLOSER * cloth.gap, close)
            points = falling.frame()
            taut = threads.stretch(points)
            if taut < least:
                least, kept = taut, points
        floor = falling.floor(falling.done - 1)
        if coarse is None:
            return kept, floor
        where = self.posed.copy()
        where[rows], _ = threads.off_themselves(kept, floor, self.posed[rows])
        whole = coarse.whole(where[coarse.rows], self.rest)
        return stick_islands(whole, self.rest, self.piece.mesh.triangles, coarse.apart), floor

    def _eased(self, points: np.ndarray, floor: TriangleTree) -> float:
        """Bring `points` (n, 3) off the floor and to their length in place; return how badly that ends, nothing if well."""
        loose, signed = self.worn < _FAST, np.zeros(0)
        for _ in range(_ROUNDS):
            signed, near = floor.signed_distance(points[loose])
            out = np.where(signed > -_DEEP, np.maximum(_OFF - signed, 0.0), 0.0)
            points[loose] += out[:, None] * floor.normals_at(near)
            if not self.threads.slacken(points, loose):
                break
        deep = float(np.maximum(-signed - _SUNK, 0.0).sum())
        return max(0.0, self.threads.stretch(points) - MAX_STRETCH) + max(0.0, deep - _PINCHED)


def _about(coarse: Coarse, loose: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the rows (k,) of the whole mesh, and the triangles over them, of what is `loose` (n,) of a thinned one, and about it."""
    part, faces = loose[coarse.rows], coarse.triangles
    near = part[faces].any(axis=1)
    for _ in range(2):
        near = part[faces].any(axis=1)
        part[faces[near]] = True
    own, numbered = np.unique(faces[near], return_inverse=True)
    return coarse.rows[own], numbered.reshape(-1, 3).astype(np.int32)


def _part(piece: Piece, rows: np.ndarray, triangles: np.ndarray) -> Piece:
    """Return the piece with its vertices `rows` (k,) alone, joined by other triangles."""
    cut = lambda moves: None if moves is None else moves[:, rows]  # noqa: E731
    skin = piece.skin and Skin(piece.skin.joints[rows], piece.skin.weights[rows])
    return replace(piece, mesh=Mesh(piece.mesh.points[rows], triangles), skin=skin, deltas=cut(piece.deltas), fixes=cut(piece.fixes),
                   brought=None, trouble=None, protect=None, left_out=None)
