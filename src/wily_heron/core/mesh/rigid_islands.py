"""Small islands (buttons, buckles) ride the cloth under them without bending."""

import numpy as np
from scipy.spatial import KDTree

from .islands import islands


def stick_islands(points: np.ndarray, before: np.ndarray, triangles: np.ndarray, small: np.ndarray) -> np.ndarray:
    """Return `points` with every island of `small` (n,) vertices moved rigidly as its neighbourhood in the rest moved.

    The rigid motion is the best rotation and translation of the 24 nearest vertices of the large islands between `before` and
    `points`. Follows: Arun, Huang & Blostein, Least-squares fitting of two 3-D point sets, 1987.

    Args:
        points: (n, 3) float, metres.
        before: (n, 3) float, metres, where the points were.
        triangles: (m, 3) int32.
        small: (n,) bool, vertices of the islands that keep their form.
    """
    out = points.copy()
    if not small.any() or small.all():
        return out
    carrier = np.flatnonzero(~small)
    tree = KDTree(before[carrier])
    count, label = islands(triangles, len(points))
    for island in range(count):
        rows = np.flatnonzero(label == island)
        if not small[rows[0]]:
            continue
        centre = before[rows].mean(axis=0)
        _, near = tree.query(centre, k=min(24, len(carrier)))
        rows_near = carrier[np.atleast_1d(near)]
        a, b = before[rows_near], points[rows_near]
        rotation = best_rotation(a - a.mean(axis=0), b - b.mean(axis=0))
        out[rows] = (before[rows] - a.mean(axis=0)) @ rotation.T + b.mean(axis=0)
    return out


def stiff_islands(points: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return `(n,) bool`: the vertices of islands that do not bend, few in vertices and at most 12 cm long: a placket is cloth.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.

    >>> import trimesh
    >>> button = trimesh.creation.cylinder(radius=0.01, height=0.004)
    >>> stiff_islands(button.vertices, button.faces).all(), stiff_islands(button.vertices * 100, button.faces).any()
    (np.True_, np.False_)
    """
    count, label = islands(triangles, len(points))
    low, high = np.full((count, 3), np.inf), np.full((count, 3), -np.inf)
    np.minimum.at(low, label, points)
    np.maximum.at(high, label, points)
    few = np.bincount(label, minlength=count) < max(400, len(points) // 20)
    return (few & ((high - low).max(axis=1) < 0.12))[label]


def best_rotation(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    """Return the rotation (3, 3) that takes centred points `a` (n, 3) nearest to `b`.

    Args:
        a: (k, 3) float.
        b: (k, 3) float, in the same order.

    >>> a = np.array([[1.0, 0.0, 0.0], [-1.0, 0.0, 0.0], [0.0, 2.0, 0.0], [0.0, -2.0, 0.0]])
    >>> quarter = np.array([[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])
    >>> bool(np.allclose(best_rotation(a, a @ quarter.T), quarter))
    True
    """
    u, _, vt = np.linalg.svd(a.T @ b)
    d = np.sign(np.linalg.det(vt.T @ u.T))
    return vt.T @ np.diag([1.0, 1.0, d]) @ u.T
