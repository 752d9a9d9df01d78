"""A cloth in motion: small substeps of extended position-based dynamics."""

from dataclasses import dataclass, field

import numpy as np

from ..mesh.edges import unique_edges
from .bends import GIVE, bends_of
from .collider import REACH, Collider
from .colouring import lanes
from .kernels import coarse_kernels, face_kernels, self_contact_kernels, substep_kernels
from .kernels import solver_kernels as solve
from .kernels.sheet_kernels import across_sides
from .kernels.simd4 import rows_of_four
from .sheet import Sheet
from .turn import TURN

FPS = 24
_ROUND = 0.04
"""Metres: the radius of an arm."""
_FACE_REACH = 0.012
"""Metres within which cloth is watched for faces of other cloth."""
_QUICK = 0.02
"""Metres: cloth that moves farther than this in half a frame is not watched for."""
_MOST, _AWAKE, _TWITCH = 75, 1.5, 5e-5
"""Cloth asleep moves in half a frame at most so many times as far as that hundredth of it does, and so many metres besides."""
_OFF, _OF, _FINEST, _VAIN = (0.03, 0.06, 0.105), 0.01, 3, 12
"""While more than a hundredth of the thread is off its length by the second of these shares, each frame takes as many substeps again as the
cloth was given, up to three times as many; with less off by the first, as many fewer. Off by the third for so many frames for all that, it
is cut too narrow, which no steps mend: it takes what it was given till it is eased."""
_COARSE = 0.018
"""Metres: faces with a longer side are wide enough for a fingertip to come through between their corners."""
_GATHERED = 0.99
"""Threads shorter by more than this than they are cut are drawn together, and taut because they are to be."""
_SHORTEST = 0.85
"""To so small a share of its length no thread is pressed."""
_NOTHING = rows_of_four(1), rows_of_four(1), np.zeros((1, 3), np.int32), np.zeros((1, 3), np.int32)
"""What cloth meets that meets no body."""


@dataclass(frozen=True)
class Worn:
    """How cloth follows what wears it: vertices `held` (h,) and how far `share` (h,), 0 to 1 a frame; 1 is held fast."""

    held: np.ndarray
    share: np.ndarray


@dataclass
class Weather:
    """Gravity along Y (m/s2), the wind (3,) m/s, the density of the air (kg/m3): a plate's drag coefficient is 1."""

    gravity: float = -9.81
    air: float = 1.2
    wind: np.ndarray = field(default_factory=lambda: np.zeros(3))


class Cloth:
    """A sheet on a collider, advanced frame by frame; `x` (n, 3) and `v` (n, 3) are its points and velocities in the
    sheet's order, begun `at` (n, 3) in the mesh's or at rest; `bending_met` and `shear_met` are the shares of the set stiffness that the
    mesh and the substeps let it show. Vertices of the same number in `beside` (n,) may touch, but for those below nothing. `calm` (1/s)
    damps it beside what its fabric does; `asleep`, what of it still goes to and fro is held back. `finer`: while it is taut or pressed
    together, frames take more than `substeps`; what pulls it goes through it no faster than a few threads a substep.

    Follows: Macklin et al., XPBD, 2016, and Small steps in physics simulation, 2019. Each constraint yields as much
    less as one sweep yields of itself, so that at rest a bend bears its load as its rigidity says.
    Vertices of a higher `layer` (n,), in the mesh's order, are worn over those of a lower: they keep outside their faces, and come out
    where they begin inside.

    Limits: contact pushes along the body's normals, so cloth that begins deeper than half a limb comes out on the wrong side; a cloth keeps
    apart from itself by its vertices, so a mesh much coarser than its gap may pass through itself.
    """

    def __init__(self, sheet: Sheet, collider: Collider | None = None, worn: Worn | None = None, weather: Weather | None = None,
                 substeps: int = 20, crowd: bool = True, seconds: float = 1.0 / FPS, at: np.ndarray | None = None,
                 layer: np.ndarray | None = None, finer: bool = False) -> None:
        self.sheet, self.collider, self.worn = sheet, collider, worn
        self.weather, self.given, self.crowd, self.seconds, self.finer = weather or Weather(), substeps, crowd, seconds, finer
        begin = sheet.points if at is None else np.asarray(at, np.float64)[sheet.order]
        self._x, self._p, self._v = (rows_of_four(len(begin)) for _ in range(3))
        self.x, self.v = self._x[:, :3], self._v[:, :3]
        self.x[:] = begin
        self.normal, self.area = rows_of_four(len(begin)), np.empty(len(begin))
        self.w = 1.0 / sheet.mass
        self._place = np.argsort(sheet.order)
        self._held = self._place[worn.held] if worn is not None else np.zeros(0, np.int64)
        if worn is not None:
            self.w[self._held[worn.share >= 1.0]] = 0.0
        self._faces_at = lanes(sheet.faces, len(self.x))
        self._drawn, self._weave = 1.0, sheet.weave
        a, b, c, d = (sheet.points[sheet.bends.rows[:, k]] for k in range(4))
        bow = sheet.curve / np.maximum(np.linalg.norm(np.cross(b - a, c - d), axis=1), 1e-12)
        far = np.linalg.norm(sheet.points[sheet.threads[:, 0]] - sheet.points[sheet.threads[:, 1]], axis=1)
        counts = sheet.rest * ((self.w[sheet.threads] > 0).any(axis=1) & (sheet.rest > _GATHERED * far))
        self._counts = counts / max(float(counts.sum()), 1e-12)
        self._bent = sheet.weight.astype(np.float32), bow.astype(np.float32)
        self._vain = 0
        self._set_pace(1)
        self._taut = np.zeros(len(sheet.stitch))
        self._near_links = np.empty_like(sheet.links.rows), np.empty(len(sheet.most), np.float32)
        self._near_stop = np.zeros(3, np.int64)
        self.grips: list[tuple[int, np.ndarray, float]] = []
        self._goal = self.x[self._held].copy()
        ends = sheet.threads.ravel()
        side = np.bincount(ends, np.repeat(sheet.rest, 2), len(self.x)) / np.maximum(np.bincount(ends, minlength=len(self.x)), 1)
        a, b, c = (sheet.points[sheet.triangles[:, k]] for k in range(3))
        wide = np.max([np.linalg.norm(a - b, axis=1), np.linalg.norm(b - c, axis=1), np.linalg.norm(c - a, axis=1)], axis=0) > _COARSE
        self._coarse = np.ascontiguousarray(sheet.triangles[wide])
        sag = np.minimum(side**2 / (8 * _ROUND), 0.003)  # so much a flat face dips between its corners over round flesh
        self.thick = np.maximum(sheet.thickness, 0.0015) + 0.001 + sag
        self.layer = np.zeros(len(self.x), np.int64) if layer is None else layer[sheet.order]
        for each in range(1, int(self.layer.max(initial=0)) + 1):
            self.thick[self.layer >= each] += sheet.thickness[self.layer == each - 1].max(initial=0.0) + face_kernels.BETWEEN
        self.gap = sheet.gap.copy()
        self.pressure = np.zeros(len(self.x))
        edges, sides = unique_edges(sheet.triangles)
        self._across = across_sides(sides, len(edges))[0]
        self._near_faces, self._apart = (np.zeros((0, 2), np.int32), np.zeros(0)), np.zeros(0)
        self._known, self._near, self._facing = (np.full(len(self.x), -1) for _ in range(3))
        self._far, self._about, self._turn, self._idle = np.zeros(len(self.x)), np.zeros(len(self.x)), 0, np.zeros(len(self.x))
        self._push = np.zeros(len(self.x))
        self._pairs = self._woven = np.zeros((0, 2), np.int32), np.zeros(0), np.zeros(4, np.int64)
        self._known_gap = np.zeros(0)
        self._straps, self.strap_length = np.zeros((0, 2), np.int32), np.zeros(0)
        self.beside = np.full(len(self.x), -1)
        self.calm, self.asleep = 0.0, False

    def frame(self, goal: np.ndarray | None = None) -> np.ndarray:
        """Advance one frame, held vertices going to `goal` (h, 3); return the points (n, 3). The collider has been told where to go."""
        with TURN:
            goal = self._goal if goal is None else np.asarray(goal, np.float64)
            held = self._holds(goal)
            for part in range(2 * self._pace):
                begin = self.x.copy() if self.asleep else None
                self._part(part, held)
                if begin is not None:
                    self._sleep(begin)
            if self.collider is not None and len(self._coarse) and not self.asleep:
                body = self.collider
                coarse_kernels.centres_out(self._x, self.w, self._coarse, body.at(1.0), body.stop_normals, body.triangles, body.across,
                                           self._near, self._idle, body.tree)
            if self.finer:
                self._find_pace()
            self._goal = goal.copy()
        return self.points

    def _sleep(self, begin: np.ndarray) -> None:
        """Let nothing go much farther from where it was (n, 3) than most of the cloth does: what is pinched, or tauter than it can be,
        would go to and fro for ever."""
        free, far = self.w > 0, np.linalg.norm(self.x - begin, axis=1)
        if not free.any():
            return
        most = _AWAKE * np.percentile(far[free], _MOST) + _TWITCH
        share = np.minimum(1.0, most / np.maximum(far, 1e-12))[:, None]
        self.x[:] = begin + share * (self.x - begin)
        self.v *= share

    def strap(self, ends: np.ndarray) -> np.ndarray:
        """Strap vertices (k, 2) together; return how far apart they are, the lengths that `strap_length` (k,) then begins with."""
        self._straps = np.ascontiguousarray(self._place[ends], np.int32)
        self.strap_length = np.linalg.norm(self.x[self._straps[:, 0]] - self.x[self._straps[:, 1]], axis=1)
        return self.strap_length.copy()

    def let_through(self, vertices: np.ndarray) -> None:
        """Let the body pass through vertices (k,) of the mesh: they are where they are held."""
        self.thick[self._place[vertices]] = -1.0

    def draw_in(self, share: float) -> None:
        """Draw drawstrings in by a share of what they come to, 0 to 1; a cloth begins with all of it."""
        share = min(share, 1.0)
        if share != self._drawn and (self.sheet.drawn != 1.0).any():
            self._drawn = share
            self._weave = self.sheet.weave * self.sheet.drawn[:, None] ** (1.0 - share)
            self._lay_faces()

    def _find_pace(self) -> None:
        """Take more substeps in the next frame, or fewer, by how far off their length the threads are."""
        some, taut, torn = (off > _OF for off in solve.off_length(self._x, self.sheet.threads, self.sheet.rest, self._counts, _OFF))
        if self._pace == _FINEST:
            self._vain = self._vain + 1 if torn else 0
        elif not some:
            self._vain = 0
        step = 1 if taut else 0 if some else -1
        pace = 1 if self._vain > _VAIN else min(max(self._pace + step, 1), _FINEST)
        if pace != self._pace:
            self._set_pace(pace)

    def _set_pace(self, pace: int) -> None:
        """Take so many times the substeps given, and lay out what depends on how long one is."""
        self._pace, self.substeps = pace, pace * self.given
        self._dt = self.seconds / self.substeps
        self._lay_faces()
        self._bend_every, moves, self.bending_met = bends_of(self.sheet, self.w, self._dt, self.substeps)
        self._bends = self._bent[0], moves.astype(np.float32), self._bent[1]

    def _lay_faces(self) -> None:
        """Lay out the faces with how they are woven now."""
        weave, soft, w = self._weave, self.sheet.soft / self._dt**2, self.w[self.sheet.faces.rows]
        u, v = (np.column_stack([-weave[:, k] - weave[:, k + 1], weave[:, k], weave[:, k + 1]]) for k in (0, 2))
        uu, vv, uv = (np.sum(w * each, axis=1) for each in (u * u, v * v, u * v))
        own = np.column_stack([uu, vv, uu + vv])
        yields = np.maximum(soft - GIVE * own, 0.0)
        self.shear_met = float(np.mean(soft[:, 2] / np.maximum(soft[:, 2], GIVE * own[:, 2])))
        along = 1.0 / np.maximum(own[:, :2] + yields[:, :2], 1e-20)
        self._faces = self._faces_at.fill(weave, w, uu, vv, uv, along, yields[:, 2])

    def held(self) -> dict[str, np.ndarray]:
        """Return all that `stand` needs: points and velocities, and what each vertex knows of the body."""
        met = {"near": self._near, "facing": self._facing, "known": self._known, "far": self._far, "idle": self._idle}
        turns = {"turn": np.array([self._turn]), "pace": np.array([self._pace, self._vain])}
        return {"x": self.x.copy(), "v": self.v.copy(), **turns, **{k: a.copy() for k, a in met.items()}}

    def stand(self, held: dict[str, np.ndarray], goal: np.ndarray) -> None:
        """Put the cloth where it was `held`, and what wears it where that was (h, 3): it goes on to the bit as it would have."""
        self.x[:], self.v[:], self._turn = held["x"], held["v"], int(held["turn"][0])
        for name in ("near", "facing", "known", "far", "idle"):
            getattr(self, f"_{name}")[:] = held[name]
        pace, self._vain = map(int, held["pace"])
        self._set_pace(pace)
        self._goal = np.asarray(goal, np.float64).copy()

    def strain(self) -> np.ndarray:
        """Return how much longer each edge (e,) of the mesh is than at rest, as a share."""
        ends = self.sheet.threads
        return np.linalg.norm(self.x[ends[:, 0]] - self.x[ends[:, 1]], axis=1) / np.maximum(self.sheet.rest, 1e-9) - 1.0

    @property
    def points(self) -> np.ndarray:
        """Where the mesh's vertices (n, 3) are now."""
        return self.x[self._place]

    def _holds(self, goal: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
        """Return each vertex's place (n,) among what is held in this frame, -1 for none, by what share (h,) of the way a substep brings it
        there, and where that is at the frame's begin and end (h, 3): what is worn going to `goal`, and the cloth that is gripped."""
        place, share = np.full(len(self.x), -1, np.int32), np.zeros(len(self.x))
        at = np.zeros((2, len(self.x), 3))
        if self.worn is not None:
            share[self._held] = 1.0 - (1.0 - np.minimum(self.worn.share, 1.0)) ** (1.0 / self.substeps)
            at[0, self._held], at[1, self._held] = self._goal, goal
        for vertex, to, radius in self.grips:  # (vertex, where it is to go (3,), how far about it, metres)
            middle = self._place[vertex]
            far = np.linalg.norm(self.sheet.points - self.sheet.points[middle], axis=1)
            near = np.flatnonzero((far < radius) & (self.w > 0))
            by = 0.3 * (1.0 - (far[near] / radius) ** 2)
            both = 1.0 - (1.0 - share[near]) * (1.0 - by)
            also = (by / both)[:, None]
            at[0, near] += also * (self.x[near] - at[0, near])
            at[1, near] += also * (self.x[near] + np.asarray(to, np.float64) - self.x[middle] - at[1, near])
            share[near] = both
        rows = np.flatnonzero(share)
        place[rows] = np.arange(len(rows))
        return place, share[rows], at[0, rows], at[1, rows]

    def _up(self) -> np.ndarray:
        """Return the way (n, 3) that leads off the body at each vertex, nothing where none is near."""
        if self.collider is None:
            return np.zeros_like(self.x)
        normals = self.collider.start_normals[self.collider.triangles[np.maximum(self._near, 0)]].mean(axis=1)
        return np.where(self._near[:, None] >= 0, normals, 0.0)

    def _look(self, t: float) -> None:
        """Find anew, `t` of the frame gone, what lies near each vertex: a third of those that know, and all that may have come near since
        they last looked."""
        body = self.collider
        assert body is not None
        moves = np.empty(len(self.x))
        self._turn += 1
        rows = body.to_ask(self._v, self.seconds, self._turn, self._near, self._idle, self._far, self._about, moves)
        self._idle[rows] = 0.0  # outside what it was near to, it may be inside what it is near to now
        self._known = np.where(self._near >= 0, self._near, self._known)  # contact walks on from triangle to triangle
        self._far[rows] = body.look(self._x, t, REACH + 2 * moves, self._known, self._near, self._facing, rows)

    def _woven_pairs(self, reach: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return the pairs, as `self_contact_kernels.pairs` does, that lie within `reach` metres at rest, but for the ends of threads
        that are never pressed so short."""
        s, n = self.sheet, len(self.x)
        ends, apart, split = self_contact_kernels.pairs(s.points, s.points, self.gap, reach, 0.0, self.beside, s.halves)
        threads = np.isin(np.sort(ends.astype(np.int64), axis=1) @ [n, 1], np.sort(s.threads.astype(np.int64), axis=1) @ [n, 1])
        rest = np.linalg.norm(s.points[ends[:, 0]] - s.points[ends[:, 1]], axis=1)
        free = ~threads | (apart > _SHORTEST * rest)
        kind = np.repeat(np.arange(3), np.diff(split))[free]
        return ends[free], apart[free], np.concatenate([[0], np.cumsum(np.bincount(kind, minlength=3))])

    def _part(self, part: int, held: tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]) -> None:
        """Go through one part of the frame, half of the substeps given: before each, what is near what is found anew."""
        s, body, faces = self.sheet, self.collider, self._faces_at
        count, gone = self.given // 2 + self.given % 2 * (part % 2), part * (self.given // 2) + part // 2 * (self.given % 2)
        share = 1 / (2 * self._pace)
        dt, x, p, step = self._dt, self._x, self._p, share / count
        solve.faces_out(x, s.faces.rows, s.faces.split, self.normal, self.area)
        drift, wind, fall = rows_of_four(1), rows_of_four(1), rows_of_four(1)
        met = _NOTHING
        if body is not None:
            self._look(part * share)
            body.turn((part + 0.5) * share)
            drift[0, :3] = body.drift / self.substeps
            met = body.way, body.normals, body.triangles, body.across
        wind[0, :3], fall[0, 1] = self.weather.wind, self.weather.gravity * dt
        air = self.normal, self.area, self.pressure, np.exp(-(s.damping + self.calm) * dt)
        touch = self._near, self._facing, self.thick, s.friction, self._push, self._idle, self._about / self.substeps
        if self.crowd:
            reach = 1.6 * float(self.gap.max())
            if not np.array_equal(self.gap, self._known_gap):
                self._woven, self._known_gap = self._woven_pairs(reach), self.gap.copy()
            self._pairs = self_contact_kernels.pairs(x, s.points, self.gap, reach, reach, self.beside, s.halves)
            if self.layer.any():
                quick = np.linalg.norm(self.v - self.v.mean(axis=0), axis=1) * self.seconds * share
                self._near_faces = face_kernels.faces_near(x, s.triangles, self.layer, self._up(), _FACE_REACH, np.minimum(quick, _QUICK))
                self._apart = np.zeros(len(self._near_faces[1]))
        way = part * share, count, step, dt, air, wind, fall, 0.5 * self.weather.air
        bent = s.bends.rows, *self._bends, s.bends.split, self._bend_every, gone
        substep_kernels.substeps(
            x, p, self._v, self.w, s.halves, way, held, (touch, (*met, drift)), (s.tied, s.tied_to, s.tie),
            (s.links.rows, s.most, s.links.split, *self._near_links, self._near_stop), (self._straps, self.strap_length),
            (faces.rows, self._faces, faces.used, faces.split), (s.sewn.rows, s.stitch, self._taut, s.sewn.split), bent,
            (*self._woven, s.friction), self._pairs, (*self._near_faces, self._apart, s.triangles, self._across, s.thickness))
