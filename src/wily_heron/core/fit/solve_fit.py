"""Settling: a piece that lies nearly right is brought to its ease, its own lines kept."""

from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse.linalg import splu

from ..mesh.edges import adjacency
from ..mesh.normals import vertex_normals
from ..mesh.ops.smooth_field import stiffness_of
from ..mesh.rigid_islands import stick_islands
from ..space.crossings import OwnCrossings
from ..space.under import Under

_SHARE, _TRIES, _FACING = 0.85, 16, 3.0
_HELD, _DRAWN, _FREE = 20.0, 4.0, 2e-3
"""How firmly a vertex under its ease, one drawn to its goal, and any other is led, against the stiffness of the cloth."""


@dataclass(frozen=True)
class Goal:
    """What each vertex should come to: `ease` (n,) it must not be under, `clearance` (n,) it is drawn to where `drawn` (n,) says so."""

    ease: np.ndarray
    clearance: np.ndarray
    drawn: np.ndarray


class _Crossings:
    """The faces of a piece that run through one another where they did not on it as it `was` (n, 3)."""

    def __init__(self, was: np.ndarray, triangles: np.ndarray) -> None:
        self.triangles, self._own = triangles, OwnCrossings(was, triangles)
        self._before = self._own.at(was)
        self.near = adjacency(triangles, len(was))
        self.mean = sparse.diags(1.0 / np.maximum(np.asarray(self.near.sum(axis=1)).ravel(), 1.0)) @ self.near

    def at(self, p: np.ndarray) -> tuple[int, np.ndarray]:
        """Return how many there are with the piece at `p` (n, 3), and which vertices (n,) are theirs, as 0 or 1."""
        fresh, mark = self._own.at(p) & ~self._before, np.zeros(len(p))
        mark[self.triangles[fresh].ravel()] = 1.0
        return int(fresh.sum()), mark

    def grown(self, rows: np.ndarray) -> np.ndarray:
        """Return which vertices (n,) lie within three edges of those (n,) that are told."""
        mark = rows.astype(float)
        for _ in range(3):
            mark = mark + self.near @ mark
        return mark > 0

    def smoothed(self, move: np.ndarray, where: np.ndarray, times: int) -> np.ndarray:
        """Return `move` (n, 3) evened out so many times, as far as `where` (n,) says."""
        for _ in range(times):
            move = move + 0.7 * where[:, None] * (self.mean @ move - move)
        return move


def solve_fit(
    points: np.ndarray, triangles: np.ndarray, under: Under, goal: Goal, still: np.ndarray, outward: float = 1.0, quick: bool = False,
    was: np.ndarray | None = None,
) -> np.ndarray:
    """Return points (n, 3) moved smoothly until none is under its ease and the drawn ones stand at their clearance.

    The displacement is the smoothest; what smoothing leaves over is put right vertex by vertex, and smoothed where that runs faces through
    one another that were clear before. Where two skins are nearer than twice the ease, as between fingers, each piece of cloth has its
    share of the air between them.

    Args:
        points: (n, 3) float, metres; the piece where it lies now.
        triangles: (m, 3) int32.
        under: What it rests on.
        goal: The ease (n,) and the clearances (n,) that are asked for.
        still: (n,) bool, vertices that ride rigidly with the cloth about them: buttons, buckles.
        outward: -1 for a piece that is inside out.
        quick: Fewer rounds, for a preview.
        was: (n, 3) float, the piece before, which tells which faces were clear of one another.

    Follows: Sorkine et al., Laplacian surface editing, 2004.
    """
    start = np.asarray(points, np.float64)
    p, stiffness, soft = start, stiffness_of(start, triangles), ~still
    factor, weight = None, None
    most = 1.25 * np.where(goal.drawn, np.maximum(goal.ease, goal.clearance), goal.ease)
    fingers = np.zeros(len(p), bool)
    for rows, _ in under.limbs:
        fingers[rows] = True
    crowded, ease, wanted = fingers, goal.ease, goal.clearance

    def shared(p: np.ndarray, clearance: np.ndarray, normal: np.ndarray, known: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """The ease and the clearance that are wanted where two walls of cloth share the air between two skins."""
        room, rows = most.copy(), np.flatnonzero(known & crowded)
        room[rows] = under.room(p[rows], clearance[rows], normal[rows], most[rows])
        return np.minimum(goal.ease, _SHARE * room), np.minimum(goal.clearance, _SHARE * room)

    for round_ in range(2 if quick else 6):
        clearance, normal, known = under.clearance(p, outward * vertex_normals(p, triangles))
        if round_ in (0, 3):
            ease, wanted = shared(p, clearance, normal, known)
        low = known & soft & (clearance < ease)
        led = low | (known & soft & goal.drawn)
        asks = np.where(low, _HELD, np.where(led, _DRAWN, _FREE))
        if weight is None or (round_ == 3 and ((asks < _DRAWN) != (weight < _DRAWN)).mean() > 0.002):  # others are led than at first
            weight = asks
            factor = splu(
                (stiffness + sparse.diags(weight)).tocsc(),
                permc_spec="MMD_AT_PLUS_A",
                options={"SymmetricMode": True},
                diag_pivot_thresh=0.0,
            )
        reach = np.where(goal.drawn, wanted, np.maximum(ease, clearance)) - clearance
        target = np.where(led[:, None], p - start + reach[:, None] * normal, 0.0)
        assert factor is not None
        moved = start + factor.solve(weight[:, None] * target)
        change = np.abs(moved - p).max()
        p = moved
        if round_ >= 3 and change < 3e-4:
            break
    p = stick_islands(p, start, triangles, still)
    for _ in range(1 if quick else 3):  # these last moves are small
        clearance, normal, known = under.clearance(p, outward * vertex_normals(p, triangles))
        short = np.where(goal.drawn, np.clip(wanted - clearance, -0.003, np.inf), ease - clearance)
        go = known & soft & (goal.drawn | (short > 0))
        p[go] += np.clip(short[go], -0.003, 0.02)[:, None] * normal[go]
    if quick:
        return stick_islands(p, start, triangles, still)
    crossings = _Crossings(start if was is None else np.asarray(was, np.float64), triangles)
    p = _untangled(p, start, crossings)

    def between_skins(crossed: np.ndarray) -> np.ndarray:
        """What has crossed where skin faces skin, as in an armpit, and what lies about it; over layers their cloth is to be kept off."""
        if under.layers:
            return crossings.grown(fingers)
        clearance, normal, known = under.clearance(p, outward * vertex_normals(p, triangles))
        facing = under.room(p, clearance, normal, _FACING * goal.ease) < _FACING * goal.ease
        return crossings.grown(fingers | ((crossed > 0) & known & facing))

    crowded = between_skins(crossings.at(start)[1])
    for k in range(8):  # above all nothing is under its ease
        clearance, normal, known = under.clearance(p, outward * vertex_normals(p, triangles))
        if k < 3:
            ease, wanted = shared(p, clearance, normal, known)
        low = clearance < ease - 1e-5
        off = known & soft & (low | (crowded & goal.drawn & (clearance > wanted + 1e-4)))
        if not off.any():
            break
        p[off] += np.maximum(np.where(low, ease, wanted) - clearance, -0.003)[off, None] * normal[off]
    p = _given_way(p, start, crossings, crowded | between_skins(crossings.at(p)[1]), under, outward, ease)
    return stick_islands(p, start, triangles, still)


def _given_way(
    p: np.ndarray, start: np.ndarray, crossings: _Crossings, narrow: np.ndarray, under: Under, outward: float, ease: np.ndarray
) -> np.ndarray:
    """Return `p` led back towards `start` and smoothed where it is `narrow` (n,) and faces still run through one another; what does not
    come apart so is evened out as it lies. There the ease gives way, to a twentieth of it if the skin leaves that much."""
    (count, fresh), best, mark, least, idle = crossings.at(p), p, np.zeros(len(p)), 0.05 * ease, 0
    evened = False
    for _ in range(_TRIES):
        if idle == 3 and not evened:
            p, (_, fresh), mark, idle, evened = best, crossings.at(best), np.zeros(len(p)), 0, True
        mark = narrow * np.minimum(np.maximum(mark, fresh + crossings.near @ fresh), 1.0)
        rows = np.flatnonzero(mark)
        if count == 0 or idle == 3 or len(rows) == 0:
            break
        p = crossings.smoothed(p, mark, 2) if evened else start + crossings.smoothed((1.0 - 0.25 * mark[:, None]) * (p - start), mark, 3)
        here = under.for_rows(rows)
        for _ in range(4):
            clearance, normal, known = here.clearance(p[rows], outward * vertex_normals(p, crossings.triangles)[rows])
            push = np.zeros_like(p)
            push[rows] = np.where(known, np.clip(least[rows] - clearance, 0.0, 0.002), 0.0)[:, None] * normal
            p = p + 0.5 * push + 0.75 * (crossings.mean @ push)
        left, fresh = crossings.at(p)
        idle = 0 if left < count else idle + 1
        if left < count:
            best, count = p, left
    return best


def _untangled(p: np.ndarray, start: np.ndarray, crossings: _Crossings) -> np.ndarray:
    """Return `p` with its move from `start` smoothed where it has run faces through others."""
    (count, mark), best = crossings.at(p), p.copy()
    for _ in range(4):
        if count == 0:
            break
        near = crossings.near
        tried = start + crossings.smoothed(best - start, np.minimum(mark + near @ mark + near @ (near @ mark), 1.0), 6)
        left, mark = crossings.at(tried)
        if left >= count:
            break
        best, count = tried, left
    return best
