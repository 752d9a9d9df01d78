"""What keeps its form while a body changes under it: buttons ride along, hats and what is carried grow alike all round, soles stay flat."""

import numpy as np

from ..figure.base.body import Wearer
from ..mesh.islands import islands
from ..model.riders import Riders
from ..space.tree import TriangleTree

_WRAPS = 0.55
"""A piece whose skin looks less than this one way (mean of unit normals) goes round the body and grows with it."""


def ridden(deltas: np.ndarray, points: np.ndarray, of: np.ndarray, count: int) -> np.ndarray:
    """Return the moves (s, r, 3) of `count` riders, and set `deltas` (s, n, 3) of the vertices that go with them (`of` (n,)), in place.

    A rider moves as the cloth nearest to its part's middle.
    """
    moves = np.zeros((len(deltas), count, 3), np.float32)
    carrier = np.flatnonzero(of < 0)
    for r in range(count):
        rows = np.flatnonzero(of == r)
        near = carrier[np.argsort(np.sum((points[carrier] - points[rows].mean(axis=0)) ** 2, axis=1))[:8]]
        moves[:, r] = deltas[:, near].mean(axis=1)
        deltas[:, rows] = moves[:, r, None]
    return moves


def similar(deltas: np.ndarray, points: np.ndarray, rows: np.ndarray, sure: np.ndarray, grows: bool) -> None:
    """Make the moves (s, n, 3) of `rows` a shift, and with `grows` a growth alike all round, nearest to those of its `sure` vertices."""
    lead = rows & sure if (rows & sure).sum() > 8 else rows
    middle = points[lead].mean(axis=0)
    arm, every = points[lead] - middle, points[rows] - middle
    shift = deltas[:, lead].mean(axis=1)
    out = np.broadcast_to(shift[:, None], (len(deltas), int(rows.sum()), 3))
    if grows:
        size = np.einsum("sna,na->s", deltas[:, lead] - shift[:, None], arm) / max(float((arm**2).sum()), 1e-9)
        out = out + size[:, None, None] * every[None]
    deltas[:, rows] = out


def flat(deltas: np.ndarray, points: np.ndarray, rows: np.ndarray) -> None:
    """Make the moves (s, n, 3) of a sole's `rows` the same in height and straight along the floor: flat it stays."""
    p = points[rows]
    plan = np.stack([p[:, 0], p[:, 2], np.ones(len(p))], axis=1)
    solve = np.linalg.pinv(plan)
    for axis in (0, 2):
        deltas[:, rows, axis] = np.einsum("nk,km,sm->sn", plan, solve, deltas[:, rows, axis])
    deltas[:, rows, 1] = deltas[:, rows, 1].mean(axis=1, keepdims=True)


def hats(points: np.ndarray, triangles: np.ndarray, sure: np.ndarray, offset: np.ndarray) -> list[np.ndarray]:
    """Return masks (n,) of parts that stand off the head rather than lie on it: hats, not hoods."""
    _, label = islands(triangles, len(points))
    close = sure & (np.linalg.norm(offset, axis=1) < 0.015)
    out = []
    for k in np.unique(label):
        rows = label == k
        if close[rows].mean() < 0.6:
            out.append(rows)
    return out


def wraps(points: np.ndarray, wearer: Wearer, tree: TriangleTree) -> bool:
    """Return whether a piece goes round what it is worn on.

    Args:
        points: (n, 3) float, metres.
        wearer: The body in its shape, at rest.
        tree: The skin, as a tree of triangles.
    """
    near = tree.nearest(points[:: max(1, len(points) // 400)])
    return float(np.linalg.norm(tree.normals[near.triangle].mean(axis=0))) < _WRAPS


def carried_moves(points: np.ndarray, wearer: Wearer, joint: int, tree: TriangleTree,
                  riders: Riders | None) -> tuple[np.ndarray, np.ndarray]:
    """Return the moves (s, n, 3) of a piece that one joint carries, and of its riders (s, r, 3): as the skin it is nearest to moves, all of
    it alike; where it touches no skin (a lantern on its ring), as the joint.

    Args:
        points: (n, 3) float, metres.
        wearer: The body in its shape, at rest.
        joint: The joint that carries it, by number.
        tree: The skin, as a tree of triangles.
        riders: Its own joints, if it has any.
    """
    body, p = wearer.body, np.asarray(points, np.float64)
    near = tree.nearest(p)
    close = near.distance < max(0.03, float(np.quantile(near.distance, 0.1)) + 0.01)
    if float(near.distance.min()) > 0.05:
        deltas = np.repeat(body.joint_deltas[:, joint][:, None], len(p), axis=1).astype(np.float32)
    else:
        corners = body.triangles[near.triangle[close]]
        deltas = np.zeros((len(body.shapes), len(p), 3), np.float32)
        deltas[:, close] = np.einsum("nk,snka->sna", near.where[close], body.deltas[:, corners])
        similar(deltas, p, np.ones(len(p), bool), close, wraps(p[close], wearer, tree))
    count = 0 if riders is None else len(riders.places)
    nearest = [int(np.argmin(np.sum((p - place) ** 2, axis=1))) for place in (riders.places if riders is not None else [])]
    return deltas, deltas[:, nearest] if count else np.zeros((len(deltas), 0, 3), np.float32)
