"""Faces chosen by a line drawn round them on the stage."""

import numpy as np
import shapely


def faces_within(points: np.ndarray, triangles: np.ndarray, clip: np.ndarray, outline: np.ndarray) -> np.ndarray:
    """Return `(h,) int32`: the faces turned to the viewer whose middle lies within `outline` (k, 2) on the screen.

    `clip` (4, 4) takes places in metres to clip space, and `outline` is in normalised device coordinates (-1 to 1, Y up), closed by
    itself; where it crosses itself, what it goes round an odd number of times is within.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        clip: (4, 4) float, from metres to the screen.
        outline: (k, 2) float, a closed line on the screen, -1 to 1, Y up.

    >>> points = np.array([[-0.5, -0.5, 0], [0.5, -0.5, 0], [0, 0.5, 0]])
    >>> square = np.array([[-0.2, -0.4], [0.2, -0.4], [0.2, 0.2], [-0.2, 0.2]])
    >>> faces_within(points, np.array([[0, 1, 2]]), np.diag([1.0, 1, -1, 1]), square)
    array([0], dtype=int32)
    >>> faces_within(points, np.array([[0, 1, 2]]), np.diag([1.0, 1, -1, 1]), square + 0.7)
    array([], dtype=int32)
    """
    homogeneous = np.concatenate([np.asarray(points, float), np.ones((len(points), 1))], axis=1) @ np.asarray(clip, float).T
    deep = homogeneous[:, 3]
    screen = homogeneous[:, :2] / np.maximum(deep, 1e-9)[:, None]
    corner = screen[triangles]
    one, two = corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]
    turned = one[:, 0] * two[:, 1] - one[:, 1] * two[:, 0] > 0
    chosen = np.flatnonzero(turned & (deep[triangles] > 1e-6).all(axis=1))
    middle = corner[chosen].mean(axis=1)
    line = shapely.make_valid(shapely.Polygon(outline))
    return chosen[shapely.contains_xy(line, middle[:, 0], middle[:, 1])].astype(np.int32)
