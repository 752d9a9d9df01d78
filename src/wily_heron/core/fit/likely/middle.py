"""A piece made alike on both sides is worn with its middle on the body's, and facing as the body does."""

import numpy as np
from scipy.spatial import KDTree

_ALIKE = 0.015
"""Sides whose points lie within this of each other's mirror image (metres, three of four) are alike."""
_FAR, _TURN = 0.08, 0.35


def mirror_plane(points: np.ndarray) -> tuple[float, float] | None:
    """Return `(turn, offset)` of the upright plane that mirrors points (n, 3) onto themselves, or None where there is none near x = 0.

    `turn` is its normal's angle about Y from +X (radians), `offset` its distance from the origin along the normal (metres). Its turn is
    that of the piece's long axis, its offset is sought by laying the points on their own image. A piece that does not reach to either side
    of the body, such as a pouch or a glove, has no say. Limits: planes turned by more than 20 degrees or 8 cm aside are not taken.

    >>> half = np.random.default_rng(1).uniform([0.0, 0, -0.1], [0.2, 0.5, 0.3], (400, 3))
    >>> turn, offset = mirror_plane(np.concatenate([half, half * [-1, 1, 1]]))
    >>> bool(abs(turn) < 0.05), bool(abs(offset) < 0.005)
    (True, True)
    """
    x = points[:, 0]
    low, high = np.quantile(x, (0.005, 0.995))
    middle = float(low + high) / 2
    if high - low < 0.2 or abs(middle) > min(_FAR, 0.25 * (high - low)):
        return None
    flat = points[:, [0, 2]] - points[:, [0, 2]].mean(axis=0)
    spread, axes = np.linalg.eigh(flat.T @ flat)
    normal = np.array([1.0, 0.0, 0.0])
    if spread[1] > 2.0 * spread[0]:  # a round piece does not say how it is turned
        normal[[0, 2]] = axes[:, 1] * (np.sign(axes[0, 1]) or 1.0)
    offset = float(points.mean(axis=0) @ normal)
    some, tree = points[:: max(1, len(points) // 1500)], KDTree(points)
    gap = np.zeros(0)
    for _ in range(4):
        image = some - 2 * (some @ normal - offset)[:, None] * normal
        gap, at = tree.query(image)
        near = gap <= np.quantile(gap, 0.75)
        offset = float(np.median((0.5 * (points[at] + some) @ normal)[near]))
    angle = float(np.arctan2(-normal[2], normal[0]))
    alike = np.quantile(gap, 0.75) < _ALIKE
    return (angle, offset) if alike and abs(offset) < _FAR and abs(angle) < _TURN else None


def squared(points: np.ndarray, plane: tuple[float, float] | None) -> tuple[np.ndarray, np.ndarray]:
    """Return the move (3,) and turn (3, 3) about its middle that bring a piece's mirror plane onto the body's."""
    if plane is None:
        return np.zeros(3), np.eye(3)
    angle, offset = plane
    c, s = np.cos(angle), np.sin(angle)
    back = np.array([[c, 0.0, -s], [0.0, 1.0, 0.0], [s, 0.0, c]])
    middle = points.mean(axis=0)
    beside = float(middle @ [c, 0.0, -s]) - offset  # the middle's own place on one side of the plane stays
    return np.array([beside - middle[0], 0.0, 0.0]), back
