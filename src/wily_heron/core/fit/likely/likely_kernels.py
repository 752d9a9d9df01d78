"""Rows of the linearised fit of a body under a piece. Loops over plain arrays."""

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def shape_rows(corner, where, normal, deltas, out):
    """Fill `out` (q, s): how far each shape moves the body's point along `normal` (q, 3), taken away from the gap.

    `corner` (q, 3) are the rows of the point's triangle, `where` (q, 3) its place there, `deltas` (n, s, 3).
    """
    for q in range(corner.shape[0]):
        for s in range(deltas.shape[1]):
            total = 0.0
            for k in range(3):
                d = deltas[corner[q, k], s]
                total += where[q, k] * (d[0] * normal[q, 0] + d[1] * normal[q, 1] + d[2] * normal[q, 2])
            out[q, s] = -total


@njit(cache=True, nogil=True)
def swing_rows(foot, corner, where, normal, under, axis, centre, out):
    """Fill `out` (q, k): how far each joint's turn moves the body's point `foot` along `normal`, taken away from the gap.

    `under` (n, k) is the share of a vertex that the joint carries, `axis` and `centre` (k, 3) its axis and place as posed.
    """
    for q in range(foot.shape[0]):
        for k in range(axis.shape[0]):
            share = 0.0
            for c in range(3):
                share += where[q, c] * under[corner[q, c], k]
            if share == 0.0:
                out[q, k] = 0.0
                continue
            x, y, z = foot[q, 0] - centre[k, 0], foot[q, 1] - centre[k, 1], foot[q, 2] - centre[k, 2]
            a, b, c_ = axis[k, 0], axis[k, 1], axis[k, 2]
            out[q, k] = -share * ((b * z - c_ * y) * normal[q, 0] + (c_ * x - a * z) * normal[q, 1] + (a * y - b * x) * normal[q, 2])


@njit(cache=True, nogil=True)
def weighted_normal_equations(rows, weight, miss, lhs, rhs):
    """Fill `lhs` (k, k) and `rhs` (k,) with rows^T W rows and -rows^T W miss."""
    k = rows.shape[1]
    for i in range(k):
        rhs[i] = 0.0
    scaled = np.empty_like(rows)
    for q in range(rows.shape[0]):
        for i in range(k):
            scaled[q, i] = weight[q] * rows[q, i]
            rhs[i] -= scaled[q, i] * miss[q]
    np.dot(rows.T, scaled, lhs)
