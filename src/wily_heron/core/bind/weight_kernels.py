"""Weights gathered and kept, and what they do to edges. Loops over plain arrays."""

import numpy as np
from numba import njit

from ..figure.base.skinning import blend


@njit(cache=True, nogil=True)
def gather(rows, corners, where, joints, weights, out):
    """Add to `out[rows]` (n, j) the weights (b, k) of three `corners` (q, 3) each, shared by barycentric `where` (q, 3)."""
    for i in range(len(rows)):
        for c in range(3):
            v, share = corners[i, c], where[i, c]
            for k in range(joints.shape[1]):
                out[rows[i], joints[v, k]] += share * weights[v, k]


@njit(cache=True, nogil=True)
def keep_greatest(dense, count, joints, weights):
    """Fill `joints` and `weights` (n, count) with the greatest of each row of `dense` (n, j), greatest first, summing to 1."""
    for i in range(dense.shape[0]):
        total = 0.0
        for k in range(count):
            joints[i, k], weights[i, k] = 0, 0.0
        for j in range(dense.shape[1]):
            w = dense[i, j]
            if w < 1e-4 or w <= weights[i, count - 1]:
                continue
            k = count - 1
            while k > 0 and weights[i, k - 1] < w:
                weights[i, k], joints[i, k] = weights[i, k - 1], joints[i, k - 1]
                k -= 1
            weights[i, k], joints[i, k] = w, j
        for k in range(count):
            total += weights[i, k]
        if total <= 0.0:
            weights[i, 0], total = 1.0, 1.0
        for k in range(count):
            weights[i, k] = weights[i, k] / total


@njit(cache=True, nogil=True)
def posed_stretch(points, joints, weights, matrices, edges, out):
    """Fill `out` (p, e) with the length of each edge (e, 2) of `points` (n, 3), blended by skin matrices (p, j, 4, 4), over its length."""
    posed = np.empty(points.shape)
    for p in range(matrices.shape[0]):
        blend(points, joints, weights, matrices[p], posed)
        for e in range(len(edges)):
            i, j = edges[e, 0], edges[e, 1]
            now = was = 0.0
            for d in range(3):
                now += (posed[i, d] - posed[j, d]) ** 2
                was += (points[i, d] - points[j, d]) ** 2
            out[p, e] = np.sqrt(now / max(was, 1e-12))
