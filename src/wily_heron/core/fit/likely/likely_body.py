"""The body a piece looks made on: our figure's shape, stance and size that lie best under it."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

import numpy as np

from ...figure.base.rotation import product, turn
from ...figure.base.skeleton import Skeleton, skin_matrices, world_matrices
from ...figure.base.skinning import skin_points
from ...figure.body_landmarks import body_landmarks
from ...figure.figure import figure
from ...figure.on_figure import figure_tree
from ...mesh.normals import vertex_normals
from ...space.tree import TriangleTree
from .freedom import Free, joints_on, posed_axes
from .freedom import free as freedom
from .likely_kernels import shape_rows, swing_rows, weighted_normal_equations
from .middle import mirror_plane, squared
from .pins import turned_by_pins
from .sleeves import sleeve_angles

_SURE = 0.006
"""What a matched point is trusted to (metres); the unit in which all priors below are weighed."""
_ROUNDS, _TRIAL_ROUNDS = 36, 3
_ARMS, _SIZES = (0.0, -0.35, 0.35), (1.0, 0.88, 1.14)
"""Starts that are tried: arms raised by this (radians), the piece sized by this."""
_HANGING = 0.010
BAD = 0.014
"""A body that the piece misses by more than this on the mean (metres) is not the body it was made on."""


@dataclass(frozen=True)
class Likely:
    """A body found under a piece.

    `points` (n, 3) is the piece moved and sized so that it lies on that body; `source` (b, 3) the level-1 figure's vertices there.
    `miss` is the mean distance (metres) from the ease asked for of what faces the skin, `facing` the share of the piece that does.
    `size` is what the piece was scaled by, `rests` the share of what faces skin that lies at the ease, `moved` how far its middle went
    (metres), `shape` (s,) the body's shape values, `degrees` the joints that are turned.
    """

    points: np.ndarray
    source: np.ndarray
    miss: float
    facing: float
    size: float
    shape: np.ndarray
    degrees: dict[str, float]
    rests: float = 1.0
    moved: float = 0.0

    @property
    def sure(self) -> bool:
        """Whether enough of the piece rests on the body to tell its place, and lies well there."""
        slid = self.moved > 0.09 or abs(np.log(self.size)) > 0.06
        return self.miss < BAD and not (self.rests < 0.75 and slid)


@dataclass
class _At:
    """Where the search stands: the piece's rows, their normals, the pins, size, joint angles, shape."""

    points: np.ndarray
    normals: np.ndarray
    pins: np.ndarray
    middle: np.ndarray
    size: float
    angle: np.ndarray
    shape: np.ndarray
    turned: np.ndarray
    moved: np.ndarray


def likely_body(
    points: np.ndarray,
    triangles: np.ndarray,
    around: np.ndarray,
    ease: float = 0.008,
    known: np.ndarray | None = None,
    pins: Mapping[str, np.ndarray] | None = None,
    still: np.ndarray | None = None,
    stay: bool = False,
) -> Likely:
    """Return the body under a piece, searched from the shape values of another.

    The cloth is free to hang off the skin, but not to lie under it; shapes are held near `around` by how far they move the skin.

    Args:
        points: (n, 3) float, metres; the piece.
        triangles: (m, 3) int32.
        around: (s,) shape values to begin from.
        ease: How far it rests off the body, metres.
        known: (b, 3) the level-1 figure's vertices on the body it was made for; then only place, size and stance are searched.
        pins: Points of the piece (3,) by the landmark they lie at; without them several sizes and stances are tried.
        still: (n,) bool, vertices left out: buttons and the like.
        stay: The piece is hardly moved; only the shape under it is searched.

    Follows: Gauss-Newton on point-to-plane distances with robust weights, after the idea of Balan & Black, The naked truth: estimating
    body shape under clothing, 2008.
    """
    body, free = figure(1), freedom()
    p = np.asarray(points, np.float64)
    normals = vertex_normals(p, triangles).astype(np.float64)
    may = np.flatnonzero(np.bincount(triangles.ravel(), minlength=len(p)) > 0) if still is None else np.flatnonzero(~still)
    if len(may) == 0:
        may = np.arange(len(p))
    rows = may[:: max(1, len(may) // 1500)]
    if known is None:
        base, joints = body.base.astype(np.float64), body.skeleton.positions
        start = around[free.rows] - body.made_at[free.rows]
    else:
        base = np.asarray(known, np.float64)
        joints, start = joints_on(base), np.zeros(0)
    lead, aside, faced = np.zeros(len(free.joints)), np.zeros(3), np.eye(3)
    if stay and known is None:
        aside, faced = squared(p, mirror_plane(p[may]))
        here = (p[may] - p.mean(axis=0)) @ faced.T + p.mean(axis=0) + aside
        lead = sleeve_angles(here, joints + np.tensordot(start, body.joint_deltas[free.rows], axes=1))
    marks = tuple(body_landmarks()[n] for n in pins or ())
    search = _Search(base, joints, start, ease, marks, figure_tree(base), lead, aside, stay=stay)
    at = _At(
        (p[rows] - p.mean(axis=0)) @ faced.T + p.mean(axis=0) + aside,
        normals[rows] @ faced.T,
        np.array([*(pins or {}).values()], np.float64).reshape(-1, 3),
        p.mean(axis=0),
        1.0,
        lead,
        start.copy(),
        faced,
        aside,
    )
    if stay:
        best = at
    elif pins:
        best = search.pinned(at)
        search = replace(search, size=best.size)
    else:
        few = max(1, len(rows) // 300)
        first = sorted((search.run(s, _TRIAL_ROUNDS, few) for s in _starts(at, free)), key=search.score)
        best = min((search.run(s, _TRIAL_ROUNDS, few) for s in first[:3]), key=search.score)
    found = search.run(best, _ROUNDS)
    skin = search.skin(found)[0]
    miss, rests, facing = search.miss(found)
    values = body.made_at.copy()
    if known is None:
        values[free.rows] += found.shape
    joint_degrees = {n: float(np.rad2deg(a)) for n, a in zip(free.names, found.angle, strict=True) if abs(a) > np.deg2rad(3.0)}
    laid = found.size * (p - p.mean(axis=0)) @ found.turned.T + found.moved + p.mean(axis=0)
    return Likely(laid, skin, miss, facing, found.size, values, joint_degrees, rests, float(np.linalg.norm(found.moved)))


def _starts(at: _At, free: Free) -> Iterator[_At]:
    for arm in _ARMS:
        for size in _SIZES:
            yield replace(at, points=size * (at.points - at.middle) + at.middle, size=size, angle=arm * free.arms)


@dataclass(frozen=True)
class _Search:
    base: np.ndarray
    joints: np.ndarray
    start: np.ndarray
    ease: float
    marks: tuple[int, ...]
    tree: TriangleTree
    lead: np.ndarray
    aside: np.ndarray
    size: float = 1.0
    stay: bool = False

    def skin(self, at: _At) -> tuple[np.ndarray, np.ndarray]:
        """Return the body's vertices as shaped and posed, and the joints' world matrices."""
        body, free = figure(1), freedom()
        rest, joints = self.base, self.joints
        if len(at.shape):
            rest = rest + (at.shape.astype(np.float32) @ free.flat).reshape(-1, 3)
            joints = joints + np.tensordot(at.shape, body.joint_deltas[free.rows], axes=1)
        rotations: dict[str, np.ndarray] = {}
        for joint, axis, angle in zip(free.joints, free.axes, at.angle, strict=True):
            if angle:
                name, q = body.skeleton.names[joint], turn(axis, float(np.rad2deg(angle)))
                rotations[name] = product(rotations[name], q) if name in rotations else q
        skeleton = Skeleton(body.skeleton.names, body.skeleton.parents, joints)
        world = world_matrices(skeleton, rotations)
        if not rotations:
            return rest, world
        return skin_points(rest, body.skin, skin_matrices(skeleton, world)).astype(np.float64), world

    def run(self, at: _At, rounds: int, every: int = 1) -> _At:
        """Return where the search stands after at most `rounds` rounds, with every so many of the piece's rows."""
        quick, last = rounds == _TRIAL_ROUNDS, np.inf
        for round_ in range(rounds):
            late = round_ if quick or self.marks else round_ + 3
            found = self._round(at, round_, late, every)
            if found is None:
                return at
            at, step = found
            if round_ > 10 and max(step, last) < 8e-4:
                break
            last = step
        return at

    def _round(self, at: _At, round_: int, late: int, every: int) -> tuple[_At, float] | None:
        """Return where the search stands after one more round, and how far that went; None where too little faces the skin."""
        skin, world = self.skin(at)
        self.tree.refit(skin)
        q, normal = at.points[::every], at.normals[::every]
        reach = max(0.20 * 0.82**late, 0.035)
        near = self.tree.nearest(q, facing=normal, agree=0.25, limit=2.5 * reach + 0.05)
        ok = near.triangle >= 0
        if ok.sum() < 20:
            return None
        q, foot, where = q[ok], near.point[ok], near.where[ok]
        n, corner = self.tree.normals[near.triangle[ok]], figure(1).triangles[near.triangle[ok]]
        off = np.sum((q - foot) * n, axis=1) - self.ease
        far = np.sum((q - foot) ** 2, axis=1)
        hang = 0.012 if self.marks else max(0.06 * 0.85**late, 0.012)  # above the ease cloth may hang: the farther the less it says
        weight = np.where(off > 0, 1.0 / (1.0 + (off / hang) ** 2) ** 2, 1.0 / (1.0 + (off / reach) ** 2)) / (1.0 + far**2 / reach**4)
        lhs, rhs = self._equations(at, q, foot, n, corner, where, world, weight / (len(weight) * _SURE**2), off)
        early = 0.7**round_  # first place and stance, by the pins above all; then the shape
        loose = 1.0 - float((np.abs(off) < 0.005).mean()) / 0.5  # cloth that rests on the body tells its place better than pins do
        late_pull = max(0.1, 2.0 * loose) if len(at.shape) else 0.15
        self._pull(at, skin, world, lhs, rhs, (late_pull + 30.0 * early) / (max(len(self.marks), 1) * _SURE**2))
        x = self._solved(at, lhs, rhs, early)
        swings = len(at.angle)
        moved = _moved(at, x[:7], np.clip(at.angle + x[7 : 7 + swings], -1.3, 1.3),
                       np.clip(at.shape + np.clip(x[7 + swings :], -0.5, 0.5), -1.5, 1.5))
        return moved, float(np.abs(x[:3]).max() + 0.3 * np.abs(x[3 : 7 + swings]).max())

    def _solved(self, at: _At, lhs: np.ndarray, rhs: np.ndarray, early: float) -> np.ndarray:
        """Return the step x that solves the equations under the priors, the damping `early`, and no longer than may be."""
        free = freedom()
        stiff_shape = np.maximum(free.effect / 0.004, 1.0)[: len(at.shape)] ** 2 / 0.25
        place = [0.04, 0.03, 12.0] if len(self.marks) > 2 else [300.0, 30.0, 500.0] if self.stay else [15.0, 0.03, 2.0]
        stiff = np.concatenate([
            np.full(3, place[0]), np.full(3, place[1]), [place[2]], free.hold * (40.0 if self.stay else 1.0),
            (0.002 + (3.0 if self.marks else 0.1) * early) * stiff_shape])
        pulled = np.concatenate([
            np.zeros(3) if self.marks else at.moved - self.aside, np.zeros(3), [np.log(at.size / self.size)], at.angle - self.lead,
            at.shape - self.start])
        damp = (0.01 + 0.2 * early) * np.diag(lhs)
        x = np.linalg.solve(lhs + np.diag(stiff + damp), rhs - stiff * pulled)
        return x * min(1.0, 0.15 / max(np.abs(x[:3]).max(), 1e-9), 0.3 / max(np.abs(x[3 : 7 + len(at.angle)]).max(), 1e-9))

    def _equations(self, at: _At, q: np.ndarray, foot: np.ndarray, n: np.ndarray, corner: np.ndarray, where: np.ndarray, world: np.ndarray,
                   weight: np.ndarray, off: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return the normal equations of points q on the skin's `foot` along `n`: for place, turn and size, joints, and shape."""
        free = freedom()
        r = q - at.middle - at.moved
        count, swings = len(at.shape), len(free.joints)
        rows = np.empty((len(q), 7 + swings + count))
        rows[:, :3], rows[:, 3:6], rows[:, 6] = n, np.cross(r, n), np.sum(r * n, axis=1)
        axes, centres = posed_axes(world)
        bends = np.empty((len(q), swings))
        swing_rows(foot, corner, where, n, free.under, axes, centres, bends)
        rows[:, 7 : 7 + swings] = bends
        if count:
            shapes = np.empty((len(q), count))
            shape_rows(corner, where, n, free.deltas, shapes)
            rows[:, 7 + swings :] = shapes
        lhs, rhs = np.empty((rows.shape[1],) * 2), np.empty(rows.shape[1])
        weighted_normal_equations(rows, weight, off, lhs, rhs)
        return lhs, rhs

    def _pull(self, at: _At, skin: np.ndarray, world: np.ndarray, lhs: np.ndarray, rhs: np.ndarray, pull: float) -> None:
        """Add the pins to the equations, each in all three directions."""
        if not self.marks:
            return
        marks = np.repeat(np.array(self.marks), 3)
        corner, where, axes = (
            np.tile(marks[:, None], (1, 3)),
            np.tile([1.0, 0.0, 0.0], (len(marks), 1)),
            np.tile(np.eye(3), (len(self.marks), 1)),
        )
        lift = self.ease * vertex_normals(skin, figure(1).triangles)[marks]
        q, foot = np.repeat(at.pins, 3, axis=0), skin[marks]
        more, side = self._equations(
            at, q, foot, axes, corner.astype(np.int32), where, world, np.full(len(q), pull), np.sum((q - foot - lift) * axes, axis=1)
        )
        lhs += more
        rhs += side

    def pinned(self, at: _At) -> _At:
        """Return the piece laid by its pins: a move, and a turn and size where three or more are given."""
        goal = self.skin(at)[0][list(self.marks)]
        a, b = at.pins, goal
        ma, mb = a.mean(axis=0), b.mean(axis=0)
        turned, grow = turned_by_pins(a, b)
        here = at.middle + at.moved
        go = lambda points: grow * (points - ma) @ turned.T + mb  # noqa: E731
        return replace(
            at,
            points=go(at.points),
            normals=at.normals @ turned.T,
            pins=go(a),
            size=at.size * grow,
            turned=turned @ at.turned,
            moved=go(here[None])[0] - at.middle,
        )

    def miss(self, at: _At) -> tuple[float, float, float]:
        """Return the mean distance from the ease of what faces skin (metres; what hangs off it counts little, however far), the share of
        it that rests at the ease, and the share of the piece that faces skin."""
        return missed(at.points, at.normals, self.tree.refit(self.skin(at)[0]), self.ease)

    def score(self, at: _At) -> float:
        """Return how badly the body lies under the piece, sizes and stances far from the start counting against it."""
        miss, _, facing = self.miss(at)
        return miss * facing + 0.05 * (1 - facing) + 0.002 * abs(np.log(at.size)) + 0.001 * float(np.abs(at.angle).sum())


def missed(points: np.ndarray, normals: np.ndarray, skin: TriangleTree, ease: float) -> tuple[float, float, float]:
    """Return how far points (q, 3) with unit normals lie from `ease` over a skin: mean distance (metres), the share of what faces the skin
    that rests at the ease, the share that faces it."""
    near = skin.nearest(points, facing=normals, agree=0.25, limit=0.15)
    faces = near.triangle >= 0
    side = np.sum((points - near.point) * skin.normals[np.maximum(near.triangle, 0)], axis=1)
    off = (np.where(side < 0, -near.distance, near.distance) - ease)[faces]
    lost = np.where(off > 0, _HANGING * (1.0 - np.exp(-off / _HANGING)), np.minimum(-off, 0.1))
    if not faces.any():
        return 0.1, 0.0, 0.0
    return float(lost.mean()), float((np.abs(off) < 0.005).mean()), float(faces.mean())


def _moved(at: _At, x: np.ndarray, angle: np.ndarray, shape: np.ndarray) -> _At:
    theta = float(np.linalg.norm(x[3:6]))
    k = x[3:6] / theta if theta > 1e-12 else np.zeros(3)
    cross = np.array([[0, -k[2], k[1]], [k[2], 0, -k[0]], [-k[1], k[0], 0]])
    turned = np.eye(3) + np.sin(theta) * cross + (1 - np.cos(theta)) * cross @ cross
    grow, here = 1.0 + float(np.clip(x[6], -0.08, 0.08)), at.middle + at.moved
    grow = float(np.clip(at.size * grow, 0.4, 2.5)) / at.size

    def go(points: np.ndarray) -> np.ndarray:
        return grow * (points - here) @ turned.T + here + x[:3]

    return replace(
        at,
        points=go(at.points),
        normals=at.normals @ turned.T,
        pins=go(at.pins),
        size=at.size * grow,
        angle=angle,
        shape=shape,
        turned=turned @ at.turned,
        moved=at.moved + x[:3],
    )
