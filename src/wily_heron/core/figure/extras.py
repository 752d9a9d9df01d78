"""Parts that can grow from the body: horns, a tail with joints of its own, pointed ears.

Each is a shape from 0 (nothing) to 1. Ears grow out of the skin itself; horns and tail are closed parts of their own, rooted under
the skin, that follow every other shape where they are rooted. A body gets them only when they are asked for.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from ..memo import Memo
from .base.body import Body
from .base.shapes import EXTRAS
from .base.skeleton import Skeleton, Skin
from .figure import LEVELS, figure

_AROUND, _ROOT_DEPTH = 14, 0.024
TAIL = tuple(f"tail_{n}" for n in range(1, 6))


@dataclass(frozen=True)
class _Part:
    """A part at full size: vertices, quads, root (3,), and per vertex which joint names carry it how much."""

    shape: str
    points: np.ndarray
    quads: np.ndarray
    root: np.ndarray
    joints: tuple[tuple[str, ...], ...]
    weights: np.ndarray


_EXTENDED: Memo[Body] = Memo("figures with extras", 384 * 2**20)


def figure_for(settings: Mapping[str, float], level: int = LEVELS) -> Body:
    """Return the figure with the extras that `settings` give a size, at refinement `level`.

    Args:
        settings: Shape settings by name, mostly -1 to 1.
        level: 1 (10,000 vertices), 2 (40,000) or 3 (160,000).
    """
    return with_extras(tuple(e for e in EXTRAS if settings.get(e)), level)


def with_extras(names: tuple[str, ...], level: int = LEVELS) -> Body:
    """Return the figure with room for the extras `names`, all of size 0: their vertices follow the body's own."""
    return _EXTENDED.of((names, level), lambda: _extended(names, level))


def _extended(names: tuple[str, ...], level: int) -> Body:
    body = figure(level)
    parts = [part for name in names for part in _PARTS.get(name, lambda _: [])(figure(1))]
    if not parts:
        return body
    skeleton, joint_deltas = body.skeleton, body.joint_deltas
    if "tail" in names:
        skeleton, joint_deltas = _with_tail_joints(body)
    base, deltas, triangles = [body.base], [body.deltas], [body.triangles]
    joints, weights, uvs = [body.skin.joints], [body.skin.weights], []
    start = len(body.base)
    for part in parts:
        n = len(part.points)
        moves = np.repeat(_carried_along(part.root)[:, None, :], n, axis=1)
        moves[body.shapes.index(part.shape)] += part.points - part.root
        base.append(np.repeat(part.root[None], n, axis=0).astype(np.float32))
        deltas.append(moves.astype(np.float32))
        triangles.append(np.concatenate([part.quads[:, [0, 1, 2]], part.quads[:, [0, 2, 3]]]).astype(np.int32) + start)
        share = np.pad(part.weights, ((0, 0), (0, 4 - part.weights.shape[1]))).astype(np.float32)
        carriers = np.array([[skeleton.index(j) for j in row] + [0] * (4 - len(row)) for row in part.joints], np.int32)
        joints.append(np.where(share > 0, carriers, 0))
        weights.append(share)
        uvs.append(_tile_uv(part))
        start += n
    corner_uv = None if body.corner_uv is None else np.concatenate([body.corner_uv, *uvs]).astype(np.float32)
    return replace(
        body, base=np.concatenate(base), deltas=np.concatenate(deltas, axis=1), triangles=np.concatenate(triangles),
        skin=Skin(np.concatenate(joints), np.concatenate(weights)), skeleton=skeleton, joint_deltas=joint_deltas, corner_uv=corner_uv,
    )


def _swept(shape: str, path: np.ndarray, radii: np.ndarray, joints: list[tuple[str, ...]], weights: np.ndarray) -> _Part:
    """Return a closed tube along `path` (k, 3) with `radii` (k,); its ends are closed to points."""
    tangent = np.gradient(path, axis=0)
    tangent /= np.linalg.norm(tangent, axis=1, keepdims=True)
    side = np.cross(tangent[0], [0.3, 0.2, 1.0])
    rings = []
    for at, way, radius in zip(path, tangent, radii, strict=True):
        side = side - (side @ way) * way  # carried along without twist
        side /= np.linalg.norm(side)
        angle = np.linspace(0, 2 * np.pi, _AROUND, endpoint=False)[:, None]
        rings.append(at + radius * (np.cos(angle) * side + np.sin(angle) * np.cross(way, side)))
    points = np.concatenate([*rings, path[[0]], path[[-1]]])
    ring = np.arange(_AROUND)
    after = (ring + 1) % _AROUND
    quads = [np.stack([k * _AROUND + ring, k * _AROUND + after, (k + 1) * _AROUND + after, (k + 1) * _AROUND + ring], axis=1)
             for k in range(len(path) - 1)]
    first, last = len(points) - 2, len(points) - 1
    top = (len(path) - 1) * _AROUND
    pairs = np.arange(0, _AROUND, 2)  # each end is closed by quads round its middle
    quads.append(np.stack([np.full(len(pairs), first), (pairs + 2) % _AROUND, pairs + 1, pairs], axis=1))
    quads.append(np.stack([np.full(len(pairs), last), top + pairs, top + pairs + 1, top + (pairs + 2) % _AROUND], axis=1))
    rows = np.repeat(np.arange(len(path)), _AROUND).tolist() + [0, len(path) - 1]
    return _Part(shape, points, np.concatenate(quads), path[0], tuple(joints[r] for r in rows), weights[rows])


def _mirror(part: _Part) -> _Part:
    flip = np.array([-1.0, 1.0, 1.0])
    return replace(part, points=part.points * flip, quads=part.quads[:, ::-1], root=part.root * flip)


def _horns(body: Body) -> list[_Part]:
    """Two ridged horns from the brow's sides, sweeping up and back."""
    start = _on_skin(body, (0.046, 1.665, 0.052))
    out = np.array([0.42, 0.80, 0.42]) / np.linalg.norm([0.42, 0.80, 0.42])
    t = np.linspace(0.0, 1.0, 22)
    path = start + np.outer(t * 0.135 - _ROOT_DEPTH, out) + np.outer(t**2, [0.020, -0.012, -0.115]) + np.outer(t**3, [-0.012, 0.035, 0.0])
    radii = 0.0165 * (1 - t) ** 0.8 * (1 + 0.07 * np.cos(t * 21 * np.pi / 2)) + 0.0012
    left = _swept("horns", path, radii, [("skullbase",)] * len(t), np.ones((len(t), 1)))
    return [left, _mirror(left)]


def _tail_path(body: Body, t: np.ndarray) -> np.ndarray:
    start = _on_skin(body, (0.0, 0.955, -0.13))
    s = np.asarray(t)[:, None]
    return start + np.array([0.0, 0.0, _ROOT_DEPTH]) + s * [0.0, -0.02, -0.30] + s**2 * [0.0, -0.78, 0.12] + s**3 * [0.0, 0.38, -0.28]


_TAIL_STOPS = np.array([0.02, 0.20, 0.40, 0.60, 0.80])


def _tail(body: Body) -> list[_Part]:
    """A tail of five joints that hangs in an S and ends in a tuft."""
    t = np.linspace(0.0, 1.0, 46)
    tuft = np.exp(-0.5 * ((t - 0.90) / 0.055) ** 2)
    radii = (0.026 * (1 - t) ** 1.2 + 0.0085 + 0.012 * tuft) * np.where(t > 0.965, np.clip((1.0 - t) / 0.035, 0.1, 1.0) ** 0.6, 1.0)
    chain = ("sacroiliac", *TAIL)
    joints, weights = [], np.zeros((len(t), 2))
    for k, x in enumerate(t):  # each joint takes over from the one before within 0.05 of its stop
        j = int(np.clip(np.searchsorted(_TAIL_STOPS + 0.05, x), 0, len(TAIL) - 1))
        share = float(np.clip((x - _TAIL_STOPS[j] + 0.05) / 0.10, 0.0, 1.0))
        share = share * share * (3 - 2 * share)
        joints.append((chain[j], chain[j + 1]))
        weights[k] = 1.0 - share, share
    return [_swept("tail", _tail_path(body, t), radii, joints, weights)]


def _with_tail_joints(body: Body) -> tuple[Skeleton, np.ndarray]:
    """Return the skeleton with the tail's joints, all at its root while it has no size, and the joints' moves with each shape."""
    s = body.skeleton
    places = _tail_path(figure(1), _TAIL_STOPS)
    root = _tail_path(figure(1), np.zeros(1))[0]
    parents = [s.index("sacroiliac"), *range(len(s.names), len(s.names) + len(TAIL) - 1)]
    moves = np.repeat(_carried_along(root)[:, None, :], len(TAIL), axis=1)
    moves[body.shapes.index("tail")] += places - root
    skeleton = Skeleton(s.names + TAIL, np.append(s.parents, parents).astype(np.int32),
                        np.vstack([s.positions, np.repeat(root[None], len(TAIL), axis=0)]))
    return skeleton, np.concatenate([body.joint_deltas, moves], axis=1)


def _on_skin(body: Body, near: tuple[float, float, float]) -> np.ndarray:
    point = body.base[np.argmin(np.sum((body.base - near) ** 2, axis=1))].astype(np.float64)
    return point * [0.0 if near[0] == 0.0 else 1.0, 1.0, 1.0]


def _carried_along(root: np.ndarray) -> np.ndarray:
    """Return `(s, 3)` how the skin at `root` moves with each shape: a mean over the 4 cm about it."""
    body = figure(1)
    share = np.exp(-0.5 * np.sum((body.base - root) ** 2, axis=1) / 0.014**2)
    rows = np.flatnonzero(share > 0.01)
    return np.einsum("n,sna->sa", share[rows] / share[rows].sum(), body.deltas[:, rows].astype(np.float64))


def _tile_uv(part: _Part) -> np.ndarray:
    """Return texture coordinates `(m, 3, 2)` of the part in the tile beside the body's: round it, and along it."""
    n = len(part.points)
    around = (np.arange(n) % _AROUND) / _AROUND
    along = (np.arange(n) // _AROUND) * _AROUND / n
    uv = np.stack([1.0 + 0.45 * around + (0.5 if part.shape == "tail" else 0.25 * float(part.root[0] < 0)), along], axis=1)
    quads = uv[part.quads]
    return np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]])


_PARTS = {"horns": _horns, "tail": _tail}
