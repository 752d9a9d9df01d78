"""How a piece is turned and sized by pins: points of it, and where on the body they belong."""

import numpy as np

_LIMB = 0.35
"""Metres: pins nearer than this may be on one limb."""


def turned_by_pins(a: np.ndarray, b: np.ndarray) -> tuple[np.ndarray, float]:
    """Return the turn (3, 3) and the size that bring pins `a` (k, 3) to `b` (k, 3), both about their means; none for less than three.

    Follows: Umeyama, 1991, but for the size, which is told by pins on one limb: how far the hands of a pair are apart says how the arms
    are held.

    Args:
        a: (k, 3) float, metres, points of the piece.
        b: (k, 3) float, metres, where they are to lie.

    >>> pins = np.array([[0.0, 0, 0], [1, 0, 0], [0, 1, 0]])
    >>> turn, size = turned_by_pins(pins, 2 * pins @ np.array([[0, 1, 0], [-1, 0, 0], [0, 0, 1]]))
    >>> turn @ [1, 0, 0] > 0.999, round(size, 3)
    (array([False,  True, False]), 2.0)
    """
    if len(a) < 3:
        return np.eye(3), 1.0
    u, _, vt = np.linalg.svd((b - b.mean(axis=0)).T @ (a - a.mean(axis=0)))
    flip = np.diag([1.0, 1.0, np.sign(np.linalg.det(u @ vt))])
    return u @ flip @ vt, _size_by(a, b)


def _size_by(a: np.ndarray, b: np.ndarray) -> float:
    """Return by how much pins `a` (k, 3) are to grow to be as far apart as `b` (k, 3), by the pairs that lie near each other if any do."""
    i, j = np.triu_indices(len(a), 1)
    apart, goal = np.linalg.norm(a[i] - a[j], axis=1), np.linalg.norm(b[i] - b[j], axis=1)
    near = goal < _LIMB
    use = near if near.sum() >= 2 else np.ones(len(i), bool)
    return float(np.clip(np.sum(apart[use] * goal[use]) / max(np.sum(apart[use] ** 2), 1e-12), 0.5, 2.0))
