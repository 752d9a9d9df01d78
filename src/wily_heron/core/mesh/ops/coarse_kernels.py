"""Places spread over a mesh, and which of them each vertex is nearest to along its edges. Loops over plain arrays."""

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def spread(begin, near, length, order, apart, far, nearest):
    """Return vertices (r,) of the graph `begin` (n + 1,), `near` (k,), `length` (k,), taken in `order`, each at least `apart` along its
    edges from those before it; and fill in how `far` (n,) each vertex is from the `nearest` (n,) of them, by number."""
    rows = np.empty(len(order), np.int64)
    count, queue, waits = 0, np.empty(len(far), np.int64), np.zeros(len(far), np.bool_)
    far[:] = np.inf
    for at in order:
        if far[at] < apart:
            continue
        far[at], nearest[at], rows[count], queue[0], waits[at] = 0.0, count, at, at, True
        first, size = 0, 1
        while size:
            one = queue[first]
            first, size = (first + 1) % len(queue), size - 1
            waits[one] = False
            for k in range(begin[one], begin[one + 1]):
                other, way = near[k], far[one] + length[k]
                if way < far[other]:
                    far[other], nearest[other] = way, count
                    if not waits[other]:
                        queue[(first + size) % len(queue)] = other
                        size += 1
                        waits[other] = True
        count += 1
    return rows[:count]


@njit(cache=True, nogil=True)
def middles(points, rows, nearest, stays, out):
    """Fill `out` (r,) with that vertex of those `nearest` (n,) to each of `rows` (r,) which is nearest to their mean; those that `stays`
    (n,) stay."""
    mean, members = np.zeros((len(rows), 3)), np.zeros(len(rows))
    for v in range(len(nearest)):
        if nearest[v] >= 0:
            for a in range(3):
                mean[nearest[v], a] += points[v, a]
            members[nearest[v]] += 1.0
    best = np.full(len(rows), np.inf)
    for r in range(len(rows)):
        out[r] = rows[r]
    for v in range(len(nearest)):
        r = nearest[v]
        if r >= 0 and not stays[rows[r]]:
            off = 0.0
            for a in range(3):
                off += (points[v, a] - mean[r, a] / members[r]) ** 2
            if off < best[r]:
                best[r], out[r] = off, v
