# Numba gives intrinsics their first argument itself:
# pyright: reportCallIssue=false
"""A tree of boxes over triangles: build once, refit per pose. Loops over plain arrays.

A node has up to eight `kids` (n, 8): another node above nothing, a leaf of eight triangles below it as -1 - leaf, none at nothing. Their
`boxes` (n, 6, 8) stand in the node. `leaves` (l, 12, 8) are the triangles' corners and unit normals, `order` (l, 8) which they are; what is
over in a leaf repeats its first.
"""

import numpy as np
from numba import njit

from .simd8 import first_lane

STACK = 256
EVEN = 1.000001
"""What is farther by less is looked at too, to tell which of several as near is the first."""


@njit(cache=True, nogil=True)
def build(centres, order, kids):
    """Split the triangles with `centres` (m, 3), halved by the median of the widest axis, into full leaves; fills `order` (m,) and `kids`
    (n, 8) and returns the number of nodes. Children follow parents."""
    size = 2 * (len(order) // 8) + 4
    first, count, left = np.zeros(size, np.int64), np.zeros(size, np.int64), np.full(size, -1)
    halves = 1
    first[0], count[0] = 0, len(order)
    node = 0
    while node < halves:
        start, n = first[node], count[node]
        if n > 8:
            lo, hi = np.full(3, 1e30), np.full(3, -1e30)
            for k in range(start, start + n):
                for a in range(3):
                    x = centres[order[k], a]
                    lo[a], hi[a] = min(lo[a], x), max(hi[a], x)
            axis = 0
            for a in range(1, 3):
                if hi[a] - lo[a] > hi[axis] - lo[axis]:
                    axis = a
            part, along = order[start:start + n].copy(), np.empty(n)
            for k in range(n):
                along[k] = centres[part[k], axis]
            ranks = np.argsort(along)
            for k in range(n):
                order[start + k] = part[ranks[k]]
            whole = _whole(n)
            half = whole * (((n + whole - 1) // whole + 1) // 2)
            left[node] = halves
            first[halves], count[halves] = start, half
            first[halves + 1], count[halves + 1] = start + half, n - half
            halves += 2
        node += 1
    of, room = np.zeros(len(kids), np.int64), np.empty(8, np.int64)
    nodes = 1
    node = 0
    while node < nodes:
        taken, k, whole = 1, 0, _whole(count[of[node]])
        room[0] = of[node]
        while k < taken:
            if left[room[k]] >= 0 and count[room[k]] > whole:
                room[taken], room[k] = left[room[k]] + 1, left[room[k]]
                taken += 1
            else:
                k += 1
        for k in range(8):
            kids[node, k] = 0
            if k < taken and left[room[k]] >= 0:
                kids[node, k], of[nodes] = nodes, room[k]
                nodes += 1
            elif k < taken and count[room[k]] > 0:
                kids[node, k] = -1 - first[room[k]] // 8
        node += 1
    return nodes


@njit(cache=True, nogil=True)
def _whole(n):
    # so many triangles are in a full kid of a node of n: but for the last all are full
    whole = 8
    while 8 * whole < n:
        whole *= 8
    return whole


@njit(cache=True, nogil=True)
def refit(points, triangles, order, kids, boxes, leaves):
    """Fill `boxes` and `leaves` for the present `points` (v, 3)."""
    ends = np.empty((len(order), 6), np.float32)
    refit_leaves(points, triangles, order, leaves, ends, 0, len(order))
    refit_nodes(points, kids, boxes, ends)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def refit_leaves(points, triangles, order, leaves, ends, low, high):
    """Fill the `leaves` from `low` to `high`, and their boxes' `ends` (l, 6)."""
    for leaf in range(low, high):
        for k in range(8):
            t = order[leaf, k]
            for c in range(3):
                i = np.uint64(triangles[t, c])
                for a in range(3):
                    leaves[leaf, 3 * c + a, k] = points[i, a]
        for k in range(8):
            ax, ay, az = leaves[leaf, 0, k], leaves[leaf, 1, k], leaves[leaf, 2, k]
            ux, uy, uz = leaves[leaf, 3, k] - ax, leaves[leaf, 4, k] - ay, leaves[leaf, 5, k] - az
            vx, vy, vz = leaves[leaf, 6, k] - ax, leaves[leaf, 7, k] - ay, leaves[leaf, 8, k] - az
            nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
            by = 1.0 / np.sqrt(max(nx * nx + ny * ny + nz * nz, 1e-60))
            leaves[leaf, 9, k], leaves[leaf, 10, k], leaves[leaf, 11, k] = nx * by, ny * by, nz * by
        for a in range(3):
            least, most = np.inf, -np.inf
            for k in range(8):
                x, y, z = leaves[leaf, a, k], leaves[leaf, 3 + a, k], leaves[leaf, 6 + a, k]
                least, most = min(least, min(min(x, y), z)), max(most, max(max(x, y), z))
            ends[leaf, a], ends[leaf, 3 + a] = least, most


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def refit_nodes(points, kids, boxes, ends):
    """Fill the nodes' `boxes` from the `ends` (l, 6) of their leaves, and wider by more than single floats round off, of the box and of a
    point as far out as `points` (v, 3)."""
    most = 1e-30
    for i in range(len(points)):
        most = max(most, max(abs(points[i, 0]), max(abs(points[i, 1]), abs(points[i, 2]))))
    pad = np.float32(4e-7 * most)
    for node in range(len(kids) - 1, -1, -1):
        for k in range(8):
            kid = kids[node, k]
            for a in range(3):
                low, high = np.float32(1e30), np.float32(-1e30)
                if kid > 0:
                    for j in range(8):
                        if kids[kid, j] != 0:
                            low, high = min(low, boxes[kid, a, j]), max(high, boxes[kid, 3 + a, j])
                elif kid < 0:
                    low, high = ends[-1 - kid, a] - pad, ends[-1 - kid, 3 + a] + pad
                else:
                    high = np.float32(1e30)
                boxes[node, a, k], boxes[node, 3 + a, k] = low, high


@njit(cache=True, nogil=True, inline="always")
def pushed(bits, far, kids, node, stack, waits, top):
    # the nearest comes to lie on top
    base = top + 1
    while bits:
        k = first_lane(bits)
        bits &= bits - 1
        top += 1
        place = top
        while place > base and waits[place - 1] < far[k]:
            stack[place], waits[place] = stack[place - 1], waits[place - 1]
            place -= 1
        stack[place], waits[place] = kids[node, k], far[k]
    return top
