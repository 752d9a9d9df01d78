"""Draping a piece: it falls as cloth on a moving wearer and the pieces under it."""

from collections.abc import Sequence

import numpy as np

from ..errors import InputError
from ..figure.body import Wearer
from ..figure.pose import pose_matrices
from ..figure.pose_types import Pose
from ..hand.surface import Surface, soft
from ..mesh.mesh import Mesh
from ..mesh.weld import joined
from ..piece.draping import Drape, Pull
from ..piece.state import Piece
from ..piece.stick import stick_islands, stiff_islands
from ..piece.worn import at_rest, worn_points
from ..space.tree import TriangleTree
from .cloth import FPS, Cloth, Weather, Worn
from .collider import Collider
from .passage import Passage
from .proxy import Proxy, proxy_of
from .sewn import sewn
from .sheet import sheet

_DRAWN = 12
"""Frames in which straps are drawn to their lengths."""
_GRASP = Pull.model_fields["radius"].default
"""Metres of cloth about the pointer that go along with it."""


class Draping:
    """A piece falling on a wearer, frame by frame; `points` (n, 3) are its vertices now.

    Small stiff parts ride the cloth about them. Panels that lie on one another are sewn together there; vertices that share a
    place are one. The cloth meets the body, or the part of it given, and the pieces under it as they are worn. `hold` (n,) says how far
    each vertex follows what wears it, in place of what the step says.
    """

    def __init__(self, piece: Piece, wearer: Wearer, step: Drape, passage: Passage, under: Sequence[Piece] = (),
                 hold: np.ndarray | None = None, body: Proxy | None = None) -> None:
        self.piece, self.step, self.passage, self.under = piece, step, passage, tuple(under)
        self.wearer, self.body = wearer, body or proxy_of(wearer.body)
        self.done, self.frames = 0, step.until or passage.frames
        mesh = piece.mesh
        self.start = at_rest(piece, wearer).astype(np.float64)
        self._still = stiff_islands(self.start, mesh.triangles)
        loose = ~self._still[mesh.triangles].all(axis=1)
        if not loose.any():
            raise InputError(what="all of it is small stiff parts, there is no cloth", where="the drape step", todo="Drape another piece.")
        self._rows, onto = joined(self.start.astype(np.float32))
        faces = onto[mesh.triangles[loose]]
        faces = faces[(faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])]
        used, inverse = np.unique(faces, return_inverse=True)
        self._rows, self._onto = self._rows[used], np.full(len(self._rows), -1)
        self._onto[used] = np.arange(len(used))
        self._onto = self._onto[onto]
        faces = inverse.reshape(faces.shape).astype(np.int32)
        hold = self._held(mesh) if hold is None else hold[self._rows]
        at = self.start[self._rows]
        cloth = sheet(at, faces, step.fabric, hold >= 1.0, shrink=self._shrink(), sewn=sewn(at, faces), stiffer=self._stiffer())
        worn = np.flatnonzero(hold > 0)
        self._worn_rows = self._rows[worn]
        self.collider = Collider(*self._surroundings())
        self.cloth = Cloth(cloth, self.collider, Worn(worn, hold[worn]), Weather(), step.substeps)
        ends = [(self._onto[a], self._onto[b]) for a, b in ((_row(mesh, s.one), _row(mesh, s.other)) for s in step.straps)]
        straps = [(e, s.length) for e, s in zip(ends, step.straps, strict=True) if min(e) >= 0 and e[0] != e[1]]
        self._strap_to = np.array([length for _, length in straps])
        self._strap_from = self.cloth.strap(np.array([e for e, _ in straps], np.int64).reshape(-1, 2))
        self._pulls = [(p, _row(mesh, p.at)) for p in step.pulls]
        self.points = self.start.copy()
        self._judge: TriangleTree | None = None
        self.held_by_hand: tuple[int, np.ndarray] | None = None

    def frame(self) -> np.ndarray:
        """Advance one frame and return the points (n, 3)."""
        pose = self.passage.at(self.done)
        matrices = pose_matrices(self.wearer, pose)
        body, _ = self._surroundings(pose, matrices)
        self.collider.go_to(body)
        worn = worn_points(self.piece, self.wearer, pose, matrices)[self._worn_rows]
        gust = 1.0 + self.step.gust * np.sin(2 * np.pi * 0.7 * self.done / FPS) * np.cos(2 * np.pi * 0.23 * self.done / FPS)
        self.cloth.weather.wind = np.array(self.step.wind) * gust
        self.cloth.grips = self._grips()
        drawn = min(1.0, (self.done + 1) / _DRAWN)
        self.cloth.strap_length = np.maximum(self._strap_to, self._strap_from + drawn * (self._strap_to - self._strap_from))
        moved = self.cloth.frame(worn)
        out = self.start.copy()
        has = self._onto >= 0
        out[has] = moved[self._onto[has]]
        self.points = stick_islands(out, self.start, self.piece.mesh.triangles, self._still)
        self.done += 1
        return self.points

    def _grips(self) -> list[tuple[int, np.ndarray, float]]:
        """Return what the pointer leads in this frame, now or as it is kept: vertex of the cloth, where to (3,), how much about it."""
        led = [(row, np.array(p.path[self.done - p.start]), p.radius) for p, row in self._pulls
               if row >= 0 and p.start <= self.done < p.start + len(p.path)]
        if self.held_by_hand is not None:
            led.append((*self.held_by_hand, _GRASP))
        return [(int(self._onto[row]), to, radius) for row, to, radius in led if self._onto[row] >= 0]

    def run(self) -> np.ndarray:
        """Go the whole way and return the last points (n, 3)."""
        while self.done < self.frames:
            self.frame()
        return self.points

    def held(self) -> dict[str, np.ndarray]:
        """Return all that `take_up` needs to go on from this frame on a drape begun alike."""
        return {"done": np.array([self.done]), "x": self.cloth.x.copy(), "v": self.cloth.v.copy()}

    def take_up(self, held: dict[str, np.ndarray]) -> None:
        """Go on from the frame that was `held`; what lies near each vertex is looked for anew. Raises `InputError` for another cloth."""
        if held["x"].shape != self.cloth.x.shape:
            raise InputError(what="the cloth is not the one that was falling", where="the drape step", todo="Begin it anew.")
        self.done = int(held["done"][0])
        pose = self.passage.at(self.done - 1)
        matrices = pose_matrices(self.wearer, pose)
        for _ in range(2):  # the body stands still there, whatever came before
            self.collider.go_to(self._surroundings(pose, matrices)[0])
        self.cloth.stand(held["x"], held["v"], worn_points(self.piece, self.wearer, pose, matrices)[self._worn_rows])

    def strain(self) -> np.ndarray:
        """Return the mean strain (n,) of the threads at each vertex, above nothing where they are stretched; nothing for stiff parts."""
        ends = self.cloth.sheet.threads
        each, n = np.repeat(self.cloth.strain(), 2), len(self.cloth.x)
        mean = np.bincount(ends.ravel(), each, n) / np.maximum(np.bincount(ends.ravel(), minlength=n), 1)
        return np.where(self._onto >= 0, mean[np.argsort(self.cloth.sheet.order)][self._onto], 0.0)

    def off_body(self, points: np.ndarray, frame: int) -> np.ndarray:
        """Return how far (n,) the piece's `points` (n, 3) of a frame lie off what they fall on, in metres, less than nothing inside it."""
        pose = self.passage.at(frame)
        under, triangles = self._surroundings(pose, pose_matrices(self.wearer, pose))
        self._judge = TriangleTree(under, triangles) if self._judge is None else self._judge.refit(under)
        return self._judge.signed_distance(points)[0]

    def report(self) -> dict:
        """Return what came of it so far: strain, the speed of the fastest hundredth (m/s), how much of the set stiffness showed."""
        strain, x = np.abs(self.cloth.strain()), self.cloth.x
        order = np.argsort(strain)
        along = np.cumsum(self.cloth.sheet.rest[order])  # by the length of the threads: trimmings of many small faces count as little
        at_99 = strain[order[np.searchsorted(along, 0.99 * along[-1])]]
        return {"frames": self.done, "vertices": len(x), "fabric": self.step.fabric.name,
                "strain_mean": float(np.average(strain, weights=self.cloth.sheet.rest)), "strain_99": float(at_99),
                "speed": float(np.percentile(np.linalg.norm(self.cloth.v, axis=1), 99)), "bending_met": self.cloth.bending_met,
                "shear_met": self.cloth.shear_met}

    def _surroundings(self, pose: Pose | None = None, matrices: np.ndarray | None = None) -> tuple[np.ndarray, np.ndarray]:
        """Return the points and triangles of the body and the pieces under the cloth, at rest or in a pose."""
        points = [self.body.at(self.wearer, pose, matrices)]
        for layer in self.under:
            points.append(at_rest(layer, self.wearer) if pose is None else worn_points(layer, self.wearer, pose, matrices))
        start, triangles = 0, []
        for own, faces in zip(points, [self.body.triangles, *(u.mesh.triangles for u in self.under)], strict=True):
            triangles.append(faces + start)
            start += len(own)
        return np.concatenate(points), np.concatenate(triangles)

    def _held(self, mesh: Mesh) -> np.ndarray:
        """Return how far each vertex of the cloth (k,) follows what wears it, 0 to 1 a frame."""
        hold = np.zeros(len(mesh.points))
        if self.step.held > 0:
            hold[self.start[:, 1] > self.start[self._rows, 1].max() - self.step.held] = 1.0
        if self.step.tacks:
            surface = Surface.of(mesh.points, mesh.triangles)
            for dab in self.step.tacks:
                row = _row(mesh, dab.at)
                if row >= 0:
                    rows, far = surface.within(np.array([row]), dab.radius)
                    hold[rows] = np.clip(hold[rows] + dab.value * soft(far, dab.radius), 0.0, 1.0)
        return np.where(hold > 0.995, 1.0, hold)[self._rows]

    def _stiffer(self) -> np.ndarray | None:
        """Return by what factor the cloth at each vertex (k,) is stiffer than its fabric."""
        if not self.step.stiff:
            return None
        out, mesh = np.zeros(len(self.piece.mesh.points)), self.piece.mesh
        surface = Surface.of(mesh.points, mesh.triangles)
        for part in self.step.stiff:
            row = _row(mesh, part.at)
            if row >= 0:
                rows, far = surface.within(np.array([row]), part.radius)
                fade = np.clip(2.0 - 2.0 * far / part.radius, 0.0, 1.0)  # whole to half-way, then fading
                more = fade * np.log(part.times)
                out[rows] = np.where(np.abs(more) > np.abs(out[rows]), more, out[rows])
        return np.exp(out)[self._rows]

    def _shrink(self) -> np.ndarray | None:
        """Return what part of its length the cloth at each vertex (k,) is drawn to by gathers."""
        if not self.step.gathers:
            return None
        out, high = np.ones(len(self._rows)), self.start[self._rows, 1]
        for band in self.step.gathers:
            row = _row(self.piece.mesh, band.at)
            if row >= 0:
                out[np.abs(high - self.start[row, 1]) <= band.width / 2] = band.factor
        return out


def _row(mesh: Mesh, received: int) -> int:
    """Return the mesh's row that came of a received one, -1 for none."""
    if mesh.received is None:
        return received if received < len(mesh.points) else -1
    rows = np.flatnonzero(mesh.received == received)
    return int(rows[0]) if len(rows) else -1
