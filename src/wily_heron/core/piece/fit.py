"""Fitting: from roughly placed to the set ease on this body."""

from dataclasses import dataclass

import numpy as np

from ..errors import InputError
from ..mesh.islands import islands
from ..mesh.normals import vertex_normals
from ..space.tree import TriangleTree
from .recipe import Fit
from .spread import spread, stiffness_of
from .stick import stick_islands

FAR, DEEP = 0.12, 0.05
"""A piece vertex farther than FAR over the skin or DEEP under it (metres) is left to its neighbours."""


@dataclass(frozen=True)
class Fitted:
    """Fitted points (n, 3), their clearance (n,) in metres, and the report."""

    points: np.ndarray
    clearance: np.ndarray
    report: dict


def fit(points: np.ndarray, triangles: np.ndarray, body_points: np.ndarray, body_triangles: np.ndarray, step: Fit) -> Fitted:
    """Return the piece brought to `step.ease` on the body.

    First a similarity (trimmed point-to-plane alignment), then a smooth displacement: vertices below the ease are held at it,
    vertices just above it are drawn to it by 1 - keep, and the bi-Laplacian of the displacement spreads that with the piece's
    own detail kept. Small islands (buttons) ride rigidly. Follows: Chen & Medioni 1992 (alignment); Sorkine et al. 2004
    (Laplacian editing). Raises `InputError` when the piece ends nowhere near the body.
    """
    tree = TriangleTree(body_points, body_triangles)
    p = np.asarray(points, np.float64)
    start = p
    if step.align:
        p = _align(p, triangles, tree, step.ease)
    aligned = p
    outward = _turned_out(p, triangles, tree)
    count, label = islands(triangles, len(p))
    large = np.bincount(label, minlength=count)[label] >= max(400, len(p) // 20)
    stiffness = stiffness_of(p, triangles)
    aim = None
    for _ in range(8):
        clearance, normal, known = _clearance(p, triangles, tree, outward)
        if aim is None:
            if (known & large).mean() < 0.05:
                raise InputError(what="hardly any of the piece lies near the body", where="the fit step",
                                 todo="Move, turn or scale the piece in the place step until it lies roughly where it is worn.")
            above = np.maximum(clearance - step.ease, 0.0)
            drawn = (1.0 - step.keep) * np.exp(-((above / 0.020) ** 2))
            aim = step.ease + above * (1.0 - drawn)
            pull = 0.6 * drawn * known
        low = known & large & (clearance < step.ease)
        weight = np.where(low, 20.0, pull) + 2e-3
        reach = np.where(low, step.ease, aim) - clearance
        target = (p - aligned) + np.where((low | (pull > 0))[:, None], reach[:, None] * normal, 0.0)
        target[~(low | (pull > 0))] = 0.0  # where nothing is asked, a faint wish to stay
        moved = aligned + spread(stiffness, weight, target)
        change = np.abs(moved - p).max()
        p = moved
        if change < 3e-4:
            break
    p = stick_islands(p, aligned, triangles, ~large)
    for _ in range(3):  # what smoothing left below the ease is put right vertex by vertex; these last moves are small
        clearance, normal, known = _clearance(p, triangles, tree, outward)
        low = known & large & (clearance < step.ease)
        p[low] += (step.ease - clearance[low])[:, None] * normal[low]
    p = stick_islands(p, aligned, triangles, ~large)
    clearance, _, known = _clearance(p, triangles, tree, outward)
    return Fitted(p, clearance, _report(start, aligned, p, triangles, clearance, known & large, step))


def _report(start, aligned, p, triangles, clearance, judged, step: Fit) -> dict:
    a, b = triangles[:, 0], triangles[:, 1]
    before = np.linalg.norm(aligned[a] - aligned[b], axis=1)
    after = np.linalg.norm(p[a] - p[b], axis=1)
    spread = float(np.std(np.log(np.maximum(after, 1e-9) / np.maximum(before, 1e-9))))
    resting = judged & (clearance < step.ease + 0.004)
    return {
        "ease": step.ease, "judged": int(judged.sum()), "below_ease": int((judged & (clearance < step.ease - 0.001)).sum()),
        "resting": int(resting.sum()), "resting_mean": float(clearance[resting].mean()) if resting.any() else None,
        "resting_spread": float(clearance[resting].std()) if resting.any() else None,
        "least": float(clearance[judged].min()) if judged.any() else None,
        "greatest_move": float(np.linalg.norm(p - start, axis=1).max()), "edge_log_spread": spread,
        "align_move": float(np.linalg.norm((aligned - start).mean(axis=0))),
    }


def _turned_out(points: np.ndarray, triangles: np.ndarray, tree: TriangleTree) -> float:
    """+1 if the piece's normals point away from the body on the whole, -1 for an inside-out piece."""
    normal = vertex_normals(points, triangles)
    near = tree.nearest(points)
    agree = np.sum(normal * tree.normals_at(near), axis=1)
    return 1.0 if np.median(agree) >= 0 else -1.0


def _clearance(points: np.ndarray, triangles: np.ndarray, tree: TriangleTree, outward: float):
    """Signed clearance (n,), the skin's normal there (n, 3) and whether it can be judged (n,).

    Outside the body the nearest skin counts. Inside, it is the nearest skin that faces as the cloth does, so that a sunk vertex
    comes out on its own side; where that lies much farther than the nearest skin, the cloth is turned back there and stays unjudged.
    """
    normal = outward * vertex_normals(points, triangles)
    near = tree.nearest(points, limit=FAR)
    known = near.triangle >= 0
    skin = tree.normals_at(near)
    skin /= np.maximum(np.linalg.norm(skin, axis=1, keepdims=True), 1e-12)
    inside = np.sum((points - near.point) * skin, axis=1) < 0
    clearance = np.where(known, near.distance, FAR)
    sunk = np.flatnonzero(known & inside)
    facing = tree.nearest(points[sunk], facing=normal[sunk], agree=0.1, limit=DEEP)
    own = (facing.triangle >= 0) & (facing.distance < 3.0 * near.distance[sunk] + 0.015)
    clearance[sunk] = -facing.distance
    turned = tree.normals_at(facing)
    skin[sunk] = turned / np.maximum(np.linalg.norm(turned, axis=1, keepdims=True), 1e-12)
    known[sunk[~own]] = False
    clearance[sunk[~own]] = FAR
    return clearance, skin, known


def _align(points: np.ndarray, triangles: np.ndarray, tree: TriangleTree, ease: float) -> np.ndarray:
    """Return `points` after a similarity that lays them on the body at about `ease`, far parts trimmed."""
    p = points.copy()
    sample = np.arange(0, len(p), max(1, len(p) // 2500))
    for round_ in range(30):
        normal = vertex_normals(p, triangles)[sample]
        near = tree.nearest(p[sample], facing=normal, agree=0.2, limit=0.25)
        ok = near.triangle >= 0
        if ok.sum() < 50:
            return p
        skin = tree.normals_at(near)[ok]
        skin /= np.linalg.norm(skin, axis=1, keepdims=True)
        q, foot = p[sample][ok], near.point[ok]
        gap = np.sum((q - foot) * skin, axis=1)
        rest = np.clip(gap, ease, ease + 0.02)  # room above the ease is not an error, being under it is
        miss = rest - gap
        width = max(0.12 * 0.85**round_, 0.02)
        weight = 1.0 / (1.0 + (np.linalg.norm(q - foot, axis=1) / width) ** 2) ** 2
        middle = p.mean(axis=0)
        r = q - middle
        columns = np.concatenate([skin, np.cross(r, skin), np.sum(r * skin, axis=1)[:, None]], axis=1)
        lean = np.diag([1e-3, 1e-3, 1e-3, 3e-2, 3e-1, 3e-1, 5e-2]) * weight.sum() * 0.1
        lhs = columns.T @ (weight[:, None] * columns) + lean
        x = np.linalg.solve(lhs, columns.T @ (weight * miss))
        angle = np.linalg.norm(x[3:6])
        turned = p - middle
        if angle > 1e-12:
            k = x[3:6] / angle
            turned = (turned * np.cos(angle) + np.cross(k, turned) * np.sin(angle)
                      + np.outer(turned @ k, k) * (1 - np.cos(angle)))
        p = (1.0 + np.clip(x[6], -0.05, 0.05)) * turned + middle + x[:3]
        if np.abs(x[:3]).max() < 1e-4 and angle < 1e-4 and abs(x[6]) < 1e-4:
            break
    return p
