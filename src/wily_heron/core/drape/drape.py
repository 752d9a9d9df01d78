"""Draping: pieces fall as cloth on a moving wearer and the pieces under them."""

from collections.abc import Sequence

import numpy as np

from ..errors import InputError
from ..figure.base.body import Wearer, shape_values, shaped
from ..figure.base.pose_types import REST, Pose
from ..mesh.rigid_islands import stiff_islands
from ..model.state import Piece
from ..model.steps.draping import Drape, DrapeReport, Pull
from ..model.worn import at_rest, worn_points
from ..motion.pose import pose_matrices
from ..space.tree import TriangleTree
from .cloth import FPS, Cloth, Weather, Worn
from .cloth_piece import SPACE, UNDER, Laid, row_of
from .collider import Collider
from .passage import Passage
from .proxy import Proxy, proxy_of, without
from .side_by_side import side_by_side

_DRAWN = 12
"""Frames in which straps and drawstrings are drawn to their lengths."""
_GRASP = Pull.model_fields["radius"].default
"""Metres of cloth about the pointer that go along with it."""


_CALM, _TO_REST = 30.0, 12
"""More damping (1/s) once nothing has moved the cloth from without for so many frames, by and by until then: what is left is its threads
rubbing on one another, which no fabric's damping of a swing stands for."""


class Draping:
    """A piece falling on a wearer, frame by frame; `points` (n, 3) are its vertices now, `beside` those of each piece that falls `along`
    with it.

    The cloth meets the body, or the part of it given, and the pieces `under` it as they are worn, less their buttons and buckles; pieces
    that fall together meet one another, the outer ones outside. `hold` (n,) says how far each vertex follows what wears it, in place of
    what the step says.
    """

    def __init__(self, piece: Piece, wearer: Wearer, step: Drape, passage: Passage, under: Sequence[Piece] = (),
                 hold: np.ndarray | None = None, body: Proxy | None = None, along: Sequence[Piece] = ()) -> None:
        self.piece, self.step, self.passage, self.under, self.along = piece, step, passage, tuple(under), tuple(along)
        self.wearer, self.body = wearer, body or proxy_of(wearer.body)
        if step.past_hidden:
            self.body = without(self.body, _hidden(wearer, (piece, *under, *along)))
        self.done, self.frames = 0, step.until or passage.frames
        self._from = None if step.start is None else shape_values(wearer.body, step.start)
        first = self.wearer_at(-1)
        own = Laid(piece, first, step, hold)
        others = [(a, Laid(p, first, a, None if a.falls else np.ones(len(p.mesh.points)))) for a, p in zip(step.along, along, strict=True)]
        self._parts = [each for a, each in others if not a.outside] + [own] + [each for a, each in others if a.outside]
        self._own, self._beside = own, [each for _, each in others]
        self._begin = np.cumsum([0, *(len(each.rows) for each in self._parts)])
        self.start = own.start
        met = [p.mesh.triangles[~stiff_islands(p.mesh.points, p.mesh.triangles)[p.mesh.triangles[:, 0]]] for p in self.under]
        at = np.cumsum([len(self.body.rows), *(len(p.mesh.points) for p in self.under)])
        faces = np.concatenate([self.body.triangles, *(own + by for own, by in zip(met, at, strict=False))])
        if not len(faces):
            raise InputError(what="all of the skin is hidden and nothing else is under it", where="the drape step",
                             todo="Let hidden skin hold it up.")
        self.collider = Collider(self._surroundings(first), faces)
        worn = np.concatenate([each.worn + at for each, at in zip(self._parts, self._begin, strict=False)])
        share = np.concatenate([each.share for each in self._parts])
        layer = np.repeat(np.arange(len(self._parts)), np.diff(self._begin))
        cloth = side_by_side([each.sheet for each in self._parts])
        self.cloth = Cloth(cloth, self.collider, Worn(worn, share), Weather(), step.substeps, layer=layer, finer=step.finer)
        for each in (each for a, each in others if not a.falls):
            self.cloth.let_through(self._at(each) + np.arange(len(each.rows)))
        self.cloth.pressure = np.array([each.how.pressure for each in self._parts])[self.cloth.layer]
        self._to = np.concatenate([each.to for each in self._parts])
        self._rest = np.concatenate([each.start[each.rows[each.worn]] for each in self._parts])
        self._tied = self._tie()
        straps = [(a + at, b + at, length) for each, at in zip(self._parts, self._begin, strict=False) for a, b, length in each.straps()]
        self._strap_to = np.array([length for _, _, length in straps])
        self._strap_from = self.cloth.strap(np.array([s[:2] for s in straps], np.int64).reshape(-1, 2))
        self._pulls = [(p, each, row_of(each.piece.mesh, p.at)) for each in self._parts for p in each.how.pulls]
        self.points, self.beside = own.start.copy(), [each.start.copy() for each in self._beside]
        self._worn_in: tuple[Wearer, Pose] | None = None
        self._judge: TriangleTree | None = None
        self.held_by_hand: tuple[int, np.ndarray] | None = None
        self._still = 0

    def wearer_at(self, frame: int) -> Wearer:
        """Return the wearer in a frame: on the way from the shape of the step's `start`, if it has one, to that of its cell."""
        if self._from is None:
            return self.wearer
        t = float(np.clip((frame + 1 - self.step.settle) / max(self.step.move, 1), 0.0, 1.0))
        t = t * t * (3 - 2 * t)
        return self.wearer if t == 1.0 else shaped(self.wearer.body, self._from + t * (self.wearer.shape - self._from))

    def frame(self) -> np.ndarray:
        """Advance one frame and return the points (n, 3)."""
        wearer, pose = self.wearer_at(self.done), self.passage.at(self.done)
        matrices = pose_matrices(wearer, pose)
        self.collider.go_to(self._surroundings(wearer, pose, matrices))
        gust = 1.0 + self.step.gust * np.sin(2 * np.pi * 0.7 * self.done / FPS) * np.cos(2 * np.pi * 0.23 * self.done / FPS)
        self.cloth.weather.wind = np.array(self.step.wind) * gust
        self.cloth.grips = self._grips()
        drawn = min(1.0, (self.done + 1) / _DRAWN)
        self.cloth.draw_in(drawn)
        self.cloth.strap_length = np.maximum(self._strap_to, self._strap_from + drawn * (self._strap_to - self._strap_from))
        quiet = drawn == 1.0 and not np.any(self.step.wind) and not self.cloth.grips and self.collider.still
        self._still = self._still + 1 if quiet else 0
        self.cloth.calm, self.cloth.asleep = _CALM * min(1.0, self._still / _TO_REST), self._still >= _TO_REST
        moved = self.cloth.frame(self._goals(wearer, pose, matrices))
        self._show(moved)
        self.done += 1
        return self.points

    def run(self) -> np.ndarray:
        """Go the whole way and return the last points (n, 3)."""
        while self.done < self.frames:
            self.frame()
        return self.points

    def held(self) -> dict[str, np.ndarray]:
        """Return all that `take_up` needs to go on from this frame on a drape begun alike."""
        return {"done": np.array([self.done]), "still": np.array([self._still]), **self.cloth.held()}

    def take_up(self, held: dict[str, np.ndarray]) -> None:
        """Go on from the frame that was `held` as if it had never been left. Raises `InputError` for another cloth."""
        if held["x"].shape != self.cloth.x.shape or "pace" not in held:
            raise InputError(what="the cloth is not the one that was falling", where="the drape step", todo="Begin it anew.")
        self.done, self._still = int(held["done"][0]), int(held["still"][0])
        wearer, pose = self.wearer_at(self.done - 1), self.passage.at(self.done - 1)
        matrices = pose_matrices(wearer, pose)
        for _ in range(2):  # the body stands still there, whatever came before
            self.collider.go_to(self._surroundings(wearer, pose, matrices))
        self.cloth.stand(held, self._goals(wearer, pose, matrices))
        self._show(self.cloth.points)

    def strain(self) -> np.ndarray:
        """Return the mean strain (n,) of the threads at each vertex, above nothing where they are stretched; nothing for stiff parts."""
        ends = self.cloth.sheet.threads
        each, n = np.repeat(self.cloth.strain(), 2), len(self.cloth.x)
        mean = np.bincount(ends.ravel(), each, n) / np.maximum(np.bincount(ends.ravel(), minlength=n), 1)
        own = mean[np.argsort(self.cloth.sheet.order)][self._at(self._own):]
        return np.where(self._own.onto >= 0, own[self._own.onto], 0.0)

    def off_body(self, points: np.ndarray, frame: int) -> np.ndarray:
        """Return how far (n,) the piece's `points` (n, 3) of a frame lie off what they fall on, in metres, less than nothing inside it."""
        return self.floor(frame).signed_distance(points)[0]

    def floor(self, frame: int) -> TriangleTree:
        """Return what the piece falls on as it is in a frame, until it is asked for another."""
        wearer, pose = self.wearer_at(frame), self.passage.at(frame)
        under = self._surroundings(wearer, pose, pose_matrices(wearer, pose))
        self._judge = self.collider.tree_at(under) if self._judge is None else self._judge.refit(under)
        return self._judge

    def report(self) -> DrapeReport:
        """Return what came of it so far, of what falls."""
        worn = self._own.start if self._worn_in is None else worn_points(self.piece, *self._worn_in)
        x, free = self.cloth.x, (self.cloth.w[self.cloth.sheet.threads] > 0).any(axis=1)
        strain, rest = np.abs(self.cloth.strain())[free], self.cloth.sheet.rest[free]
        order = np.argsort(strain)
        along = np.cumsum(rest[order])  # by the length of the threads: trimmings of many small faces count as little
        at_99 = strain[order[np.searchsorted(along, 0.99 * along[-1])]] if len(along) else 0.0
        return DrapeReport(
            frames=self.done, vertices=len(x), fabric=self.step.fabric.name,
            strain_mean=float(np.average(strain, weights=rest)) if len(rest) else 0.0, strain_99=float(at_99),
            speed=float(np.percentile(np.linalg.norm(self.cloth.v, axis=1), 99)), bending_met=self.cloth.bending_met,
            shear_met=self.cloth.shear_met, sunk=float(worn[:, 1].mean()) - float(self.points[:, 1].mean()))

    def _at(self, part: Laid) -> int:
        return int(self._begin[next(k for k, each in enumerate(self._parts) if each is part)])

    def _show(self, moved: np.ndarray) -> None:
        """Take the pieces' points from where the cloth (k, 3) is."""
        self.points = self._own.whole(moved[self._at(self._own):])
        self.beside = [each.whole(moved[self._at(each):]) for each in self._beside]

    def _tie(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return the triangle under each vertex tacked to what lies under it, where on it (h, 3), and how far off (h,) metres."""
        rows = np.flatnonzero(self._to == UNDER)
        if not len(rows):
            return np.zeros((0, 3), np.int64), np.zeros((0, 3)), np.zeros(0)
        found = TriangleTree(self.collider.start, self.collider.triangles).nearest(self._rest[rows])
        a = self.collider.triangles[found.triangle]
        normal = np.einsum("hk,hka->ha", found.where, self.collider.start_normals[a])
        return a, found.where, np.sum((self._rest[rows] - found.point) * normal, axis=1)

    def _goals(self, wearer: Wearer, pose: Pose, matrices: np.ndarray) -> np.ndarray:
        """Return where what is held (h, 3) is to be at the end of the frame."""
        self._worn_in = wearer, pose
        worn = [worn_points(each.piece, wearer, pose, matrices, each.rows[each.worn]) for each in self._parts]
        goal = np.concatenate(worn, dtype=np.float64)
        goal[self._to == SPACE] = self._rest[self._to == SPACE]
        corners, where, off = self._tied
        if len(off):
            mean = lambda values: np.einsum("hk,hka->ha", where, values[corners])  # noqa: E731
            goal[self._to == UNDER] = mean(self.collider.stop) + off[:, None] * mean(self.collider.stop_normals)
        return goal

    def _grips(self) -> list[tuple[int, np.ndarray, float]]:
        """Return what the pointer leads in this frame, now or as it is kept: vertex of the cloth, where to (3,), how much about it."""
        led = [(each, row, np.array(p.path[self.done - p.start]), p.radius) for p, each, row in self._pulls
               if row >= 0 and p.start <= self.done < p.start + len(p.path)]
        if self.held_by_hand is not None:
            led.append((self._own, *self.held_by_hand, _GRASP))
        return [(int(each.onto[row]) + self._at(each), to, radius) for each, row, to, radius in led if each.onto[row] >= 0]

    def _surroundings(self, wearer: Wearer, pose: Pose = REST, matrices: np.ndarray | None = None) -> np.ndarray:
        """Return the points of the body and the pieces under the cloth, at rest or in a pose."""
        still = matrices is None
        points = [self.body.at(wearer, None if still else pose, matrices)]
        for layer in self.under:
            points.append(at_rest(layer, wearer) if still else worn_points(layer, wearer, pose, matrices))
        return np.concatenate(points, dtype=np.float64)


def _hidden(wearer: Wearer, pieces: Sequence[Piece]) -> np.ndarray:
    """Return which of the body's vertices (n,) are of no face that all the pieces leave shown."""
    gone = [p.hidden for p in pieces if p.hidden is not None]
    out = np.ones(len(wearer.points), bool)
    out[np.delete(wearer.body.triangles, np.concatenate(gone) if gone else [], axis=0)] = False
    return out
