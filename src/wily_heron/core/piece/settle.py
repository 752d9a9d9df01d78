"""Settling: a piece that lies nearly right is brought to its ease, its own lines kept."""

from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse.linalg import splu

from ..mesh.edges import adjacency, unique_edges
from ..mesh.normals import vertex_normals
from ..space.tree import TriangleTree
from .clearance_over import Under
from .spread import stiffness_of
from .stick import stick_islands

_HELD, _DRAWN, _FREE = 20.0, 4.0, 2e-3
"""How firmly a vertex under its ease, one drawn to its goal, and any other is led, against the stiffness of the cloth."""


@dataclass(frozen=True)
class Goal:
    """What each vertex should come to: `ease` (n,) it must not be under, `clearance` (n,) it is drawn to where `drawn` (n,) says so."""

    ease: np.ndarray
    clearance: np.ndarray
    drawn: np.ndarray


def settle(
    points: np.ndarray, triangles: np.ndarray, under: Under, goal: Goal, still: np.ndarray, outward: float = 1.0, quick: bool = False
) -> np.ndarray:
    """Return `points` (n, 3) moved smoothly until none is under its ease and the drawn ones stand at their clearance.

    `still` (n,) vertices (buttons, buckles) ride rigidly with the cloth about them. `outward` is -1 for an inside-out piece. The
    displacement is the smoothest in the sense of: Sorkine et al., Laplacian surface editing, 2004; what smoothing leaves over is put
    right vertex by vertex, and rolled back where that runs faces through one another. `quick` does less of each, for a preview.
    Limits: where two skins are nearer than twice the ease, as in the armpit, not both can be kept.
    """
    start = np.asarray(points, np.float64)
    p, stiffness, soft = start, stiffness_of(start, triangles), ~still
    factor, weight = None, None
    for round_ in range(2 if quick else 6):
        clearance, normal, known = under.clearance(p, outward * vertex_normals(p, triangles))
        low = known & soft & (clearance < goal.ease)
        led = low | (known & soft & goal.drawn)
        if factor is None or round_ == 3:
            weight = np.where(low, _HELD, np.where(led, _DRAWN, _FREE))
            factor = splu(
                (stiffness + sparse.diags(weight)).tocsc(),
                permc_spec="MMD_AT_PLUS_A",
                options={"SymmetricMode": True},
                diag_pivot_thresh=0.0,
            )
        reach = np.where(goal.drawn, goal.clearance, np.maximum(goal.ease, clearance)) - clearance
        target = np.where(led[:, None], p - start + reach[:, None] * normal, 0.0)
        assert weight is not None
        moved = start + factor.solve(weight[:, None] * target)
        change = np.abs(moved - p).max()
        p = moved
        if round_ >= 3 and change < 3e-4:
            break
    p = stick_islands(p, start, triangles, still)
    for _ in range(1 if quick else 3):  # these last moves are small
        clearance, normal, known = under.clearance(p, outward * vertex_normals(p, triangles))
        short = np.where(goal.drawn, np.clip(goal.clearance - clearance, -0.003, np.inf), goal.ease - clearance)
        go = known & soft & (goal.drawn | (short > 0))
        p[go] += np.clip(short[go], -0.003, 0.02)[:, None] * normal[go]
    if quick:
        return stick_islands(p, start, triangles, still)
    p = _untangled(p, start, triangles)
    for _ in range(8):  # above all nothing is under its ease
        clearance, normal, known = under.clearance(p, outward * vertex_normals(p, triangles))
        low = known & soft & (clearance < goal.ease - 1e-5)
        if not low.any():
            break
        p[low] += (goal.ease - clearance)[low, None] * normal[low]
    p = _given_way(p, start, triangles, under, outward, goal.ease)
    return stick_islands(p, start, triangles, still)


def _given_way(p: np.ndarray, start: np.ndarray, triangles: np.ndarray, under: Under, outward: float, ease: np.ndarray) -> np.ndarray:
    """Return `p` led back towards `start` where faces still run through one another: between fingers the ease gives way, never the skin.

    No vertex led back ends farther from its start than twice what it lacked there: in the web of two fingers the way out of one is
    the way into the other.
    """
    edges, _ = unique_edges(triangles)
    before, tree, near = TriangleTree(start, triangles).pierced(edges), TriangleTree(p, triangles), adjacency(triangles, len(p))
    tangled = tree.pierced(edges) & ~before
    best, count, mark = p, int(tangled.sum()), np.zeros(len(p))
    if count == 0:
        return p
    outwards = outward * vertex_normals(p, triangles)
    ahead, _ = under.skin.first_hits(p, outwards, min(3.0 * float(ease.max()), 0.006))
    crowded = np.isfinite(ahead).astype(float)  # another skin lies right before it, as between fingers
    for _ in range(3):
        crowded = np.minimum(crowded + near @ crowded, 1.0)
    if not crowded.any():
        return p
    lacks, _, known = under.clearance(start, outward * vertex_normals(start, triangles))
    most = 0.001 + 2.0 * np.where(known, np.maximum(ease - lacks, 0.0), 0.0)
    for _ in range(10):
        fresh = np.zeros(len(p))
        fresh[triangles[tangled].ravel()] = 1.0
        mark = np.minimum(np.maximum(mark, (fresh + near @ fresh) * crowded), 1.0)
        tried = p + 0.75 * mark[:, None] * (start - p)
        clearance, normal, known = under.clearance(tried, outward * vertex_normals(tried, triangles))
        low = known & (mark > 0) & (clearance < 0.05 * ease)
        tried[low] += (0.05 * ease - clearance)[low, None] * normal[low]
        away = tried - start
        far = np.linalg.norm(away, axis=1)
        tried = np.where((mark > 0)[:, None], start + away * np.minimum(1.0, most / np.maximum(far, 1e-12))[:, None], tried)
        tangled = tree.refit(tried).pierced(edges) & ~before
        p = tried
        if tangled.sum() < count:
            best, count = tried, int(tangled.sum())
        if count == 0:
            break
    return best


def _untangled(p: np.ndarray, start: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return `p` with its move from `start` smoothed where it has run faces through others that were clear of each other."""
    edges, _ = unique_edges(triangles)
    before = TriangleTree(start, triangles).pierced(edges)
    tree, near = TriangleTree(p, triangles), adjacency(triangles, len(p))
    mean = sparse.diags(1.0 / np.maximum(np.asarray(near.sum(axis=1)).ravel(), 1.0)) @ near
    best, count = p.copy(), int((tree.pierced(edges) & ~before).sum())
    for _ in range(4):
        if count == 0:
            break
        mark = np.zeros(len(p))
        mark[triangles[tree.pierced(edges) & ~before].ravel()] = 1.0
        reach = np.minimum(mark + near @ mark + near @ (near @ mark), 1.0)[:, None]
        move = best - start
        for _ in range(6):
            move = move + reach * 0.7 * (mean @ move - move)
        fewer = int((tree.refit(start + move).pierced(edges) & ~before).sum())
        if fewer >= count:
            break
        best, count = start + move, fewer
    return best
