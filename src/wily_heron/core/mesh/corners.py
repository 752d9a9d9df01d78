"""Faces by what is said of their corners, points by their three numbers; far quicker than numpy's reduction along an axis of three."""

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def any_corner(of: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return `(m,) bool`: the triangles (m, 3) with at least one corner among the vertices `of` (n,) bool.

    >>> any_corner(np.array([True, False, False, False]), np.array([[0, 1, 2], [1, 2, 3]], np.int32)).tolist()
    [True, False]
    """
    out = np.empty(len(triangles), np.bool_)
    for t in range(len(triangles)):
        out[t] = of[triangles[t, 0]] or of[triangles[t, 1]] or of[triangles[t, 2]]
    return out


@njit(cache=True, nogil=True)
def either_end(of: np.ndarray, edges: np.ndarray) -> np.ndarray:
    """Return `(e,) bool`: the edges (e, 2) with at least one end among the vertices `of` (n,) bool.

    >>> either_end(np.array([True, False, False]), np.array([[0, 1], [1, 2]], np.int32)).tolist()
    [True, False]
    """
    out = np.empty(len(edges), np.bool_)
    for e in range(len(edges)):
        out[e] = of[edges[e, 0]] or of[edges[e, 1]]
    return out


@njit(cache=True, nogil=True)
def every_corner(of: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return `(m,) bool`: the triangles (m, 3) with all three corners among the vertices `of` (n,) bool.

    >>> every_corner(np.array([True, True, True, False]), np.array([[0, 1, 2], [1, 2, 3]], np.int32)).tolist()
    [True, False]
    """
    out = np.empty(len(triangles), np.bool_)
    for t in range(len(triangles)):
        out[t] = of[triangles[t, 0]] and of[triangles[t, 1]] and of[triangles[t, 2]]
    return out


def corners_of(which: np.ndarray, triangles: np.ndarray, count: int) -> np.ndarray:
    """Return `(count,) bool`: the vertices that are corners of the triangles (m, 3) `which` (m,) bool.

    >>> corners_of(np.array([True, False]), np.array([[0, 1, 2], [1, 2, 3]], np.int32), 4).tolist()
    [True, True, True, False]
    """
    out = np.zeros(count, bool)
    out[triangles[which]] = True
    return out


@njit(cache=True, nogil=True)
def ringed(of: np.ndarray, triangles: np.ndarray, rings: int) -> np.ndarray:
    """Return `(n,) bool`: the vertices `of` (n,) bool, and those within so many `rings` of triangles (m, 3) about them.

    >>> strip = np.array([[0, 1, 2], [1, 2, 3], [2, 3, 4]], np.int32)
    >>> ringed(np.array([True, False, False, False, False]), strip, 1).tolist()
    [True, True, True, False, False]
    """
    out = of.copy()
    for _ in range(rings):
        was = out.copy()
        for t in range(len(triangles)):
            if was[triangles[t, 0]] or was[triangles[t, 1]] or was[triangles[t, 2]]:
                out[triangles[t, 0]] = out[triangles[t, 1]] = out[triangles[t, 2]] = True
    return out


def moved_rows(before: np.ndarray, after: np.ndarray) -> np.ndarray:
    """Return `(n,) bool`: which of points (n, 3) are no longer where they were `before` (n, 3), to the last digit.

    >>> moved_rows(np.zeros((2, 3)), np.array([[0.0, 0.0, 0.0], [0.0, 1e-9, 0.0]])).tolist()
    [False, True]
    """
    return (before[:, 0] != after[:, 0]) | (before[:, 1] != after[:, 1]) | (before[:, 2] != after[:, 2])
