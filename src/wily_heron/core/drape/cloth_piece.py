"""One piece laid out as cloth: what of it falls, what holds it, and how its cloth leads back to the piece."""

from functools import cached_property

import numpy as np

from ..errors import InputError
from ..figure.base.body import Wearer
from ..mesh.mesh import Mesh
from ..mesh.ops.weld import joined
from ..mesh.rigid_islands import stick_islands, stiff_islands
from ..model.state import Piece
from ..model.steps.draping import AsCloth, Stiff, Tack
from ..model.worn import at_rest
from ..space.surface import Surface, soft
from .sewn import sewn
from .sheet import Sheet, sheet

WEARER, SPACE, UNDER = 0, 1, 2
"""What holds a vertex: it goes with the wearer, stays in space, or goes with what lies under it."""
_TO = {"wearer": WEARER, "space": SPACE, "under": UNDER}


class Laid:
    """A piece on a wearer at rest as cloth held `how` it says; `hold` (n,) says how far each vertex follows the wearer instead.

    Small stiff parts ride the cloth about them; vertices that share a place are one, but for the two sides of a cut; panels that lie on one
    another are sewn together there. The cloth's vertices are the piece's `rows` (k,), `onto` (n,) leads to them (-1 for stiff parts). Of
    the cloth `worn` (h,) is held, by `share` (h,), 1 fast, by what `to` (h,) says.
    """

    def __init__(self, piece: Piece, wearer: Wearer, how: AsCloth, hold: np.ndarray | None = None) -> None:
        self.piece, self.how, mesh = piece, how, piece.mesh
        self.start = at_rest(piece, wearer).astype(np.float64)
        self._still = stiff_islands(self.start, mesh.triangles)
        loose = ~self._still[mesh.triangles].all(axis=1)
        if not loose.any():
            raise InputError(what="all of it is small stiff parts, there is no cloth", where="the drape step", todo="Drape another piece.")
        rows, onto = joined(self.start.astype(np.float32), _sides(self.start, mesh.received))
        faces = onto[mesh.triangles[loose]]
        faces = faces[(faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])]
        used, inverse = np.unique(faces, return_inverse=True)
        self.rows, cloth = rows[used], np.full(len(rows), -1)
        cloth[used] = np.arange(len(used))
        self.onto = cloth[onto]
        self._faces = inverse.reshape(faces.shape).astype(np.int32)
        held, to = self._held(mesh) if hold is None else (hold, np.zeros(len(hold), np.int64))
        self._hold = held[self.rows]
        self.worn = np.flatnonzero(self._hold > 0)
        self.share, self.to = self._hold[self.worn], to[self.rows][self.worn]

    @cached_property
    def sheet(self) -> Sheet:
        """The cloth itself."""
        at = self.start[self.rows]
        shrink, later = self._shrink()
        return sheet(at, self._faces, self.how.fabric, self._hold >= 1.0, shrink=shrink, sewn=sewn(at, self._faces),
                     stiffer=self._stiffer(), later=later)

    def straps(self) -> list[tuple[int, int, float]]:
        """Return the straps whose two ends are cloth: its vertices, and the length (metres)."""
        ends = [(self.vertex(s.one), self.vertex(s.other), s.length) for s in self.how.straps]
        return [e for e in ends if min(e[:2]) >= 0 and e[0] != e[1]]

    def vertex(self, received: int) -> int:
        """Return the cloth's vertex that came of a received row, -1 for none."""
        row = row_of(self.piece.mesh, received)
        return int(self.onto[row]) if row >= 0 else -1

    def whole(self, moved: np.ndarray) -> np.ndarray:
        """Return the piece's points (n, 3) where its cloth has moved to (k, 3): stiff parts go along."""
        if not self._still.any():
            return moved[self.onto]
        out, has = self.start.copy(), self.onto >= 0
        out[has] = moved[self.onto[has]]
        return stick_islands(out, self.start, self.piece.mesh.triangles, self._still)

    def _held(self, mesh: Mesh) -> tuple[np.ndarray, np.ndarray]:
        """Return how far each vertex (n,) follows what holds it, 0 to 1 a frame, and what that is (n,)."""
        hold, to = np.zeros(len(mesh.points)), np.zeros(len(mesh.points), np.int64)
        if self.how.held > 0:
            hold[self.start[:, 1] > self.start[self.rows, 1].max() - self.how.held] = 1.0
        if self.how.tacks:
            surface = Surface.of(mesh.points, mesh.triangles)
            for tack in self.how.tacks:
                start = _rows_of(mesh, tack)
                if len(start):
                    rows, far = surface.within(start, tack.radius)
                    by = tack.value * soft(far, tack.radius)
                    hold[rows] = np.clip(hold[rows] + by, 0.0, 1.0)
                    to[rows[by > 0]] = _TO[tack.to]
        return np.where(hold > 0.995, 1.0, hold), to

    def _stiffer(self) -> np.ndarray | None:
        """Return by what factor the cloth at each vertex (k,) is stiffer than its fabric."""
        if not self.how.stiff:
            return None
        out, mesh = np.zeros(len(self.piece.mesh.points)), self.piece.mesh
        surface = Surface.of(mesh.points, mesh.triangles)
        for part in self.how.stiff:
            start = _rows_of(mesh, part)
            if len(start):
                rows, far = surface.within(start, part.radius)
                fade = np.clip(2.0 - 2.0 * far / part.radius, 0.0, 1.0)  # whole to half-way, then fading
                more = fade * np.log(part.times)
                out[rows] = np.where(np.abs(more) > np.abs(out[rows]), more, out[rows])
        return np.exp(out)[self.rows]

    def _shrink(self) -> tuple[np.ndarray, np.ndarray]:
        """Return what part of its length the cloth at each vertex (k,) is drawn to by gathers, and by the drawstrings of them."""
        out, later, high = np.ones(len(self.rows)), np.ones(len(self.rows)), self.start[self.rows, 1]
        for band in self.how.gathers:
            row = row_of(self.piece.mesh, band.at)
            if row >= 0:
                mine = np.abs(high - self.start[row, 1]) <= band.width / 2
                out[mine] = band.factor
                later[mine] = band.factor if band.string else 1.0
        return out, later


def row_of(mesh: Mesh, received: int) -> int:
    """Return the mesh's row that came of a received one, -1 for none.

    Args:
        mesh: The mesh, in metres.
        received: Rows of the points as they came.
    """
    if mesh.received is None:
        return received if received < len(mesh.points) else -1
    rows = np.flatnonzero(mesh.received == received)
    return int(rows[0]) if len(rows) else -1


def _sides(points: np.ndarray, received: np.ndarray | None) -> np.ndarray:
    """Return `(n, 1)` which side of a cut each vertex is on: a cut gives one side vertices of its own, in the same place and of the same
    received row, after the other's."""
    side = np.zeros((len(points), 1))
    if received is not None:
        _, place = joined(points.astype(np.float32))
        order = np.lexsort((received, place))
        again = (np.diff(place[order]) == 0) & (np.diff(received[order]) == 0)
        side[order[1:][again]] = 1.0
    return side


def _rows_of(mesh: Mesh, stroke: Tack | Stiff) -> np.ndarray:
    """Return those rows (k,) that came of a stroke's received rows and are still there."""
    rows = np.array([row_of(mesh, at) for at in (stroke.at, *stroke.along)])
    return rows[rows >= 0]
