"""Distances along a surface. Loops over plain arrays."""

import heapq

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def spread_out(start, first, near, length, reach, distance, touched):
    """Fill `distance` (n,) from rows `start` along the graph (CSR: `first`, `near`, `length`) up to `reach`; returns how many rows of
    `touched` hold the vertices reached. `distance` comes in as inf. Follows: Dijkstra 1959."""
    heap = [(0.0, start[0])]
    heap.pop()
    for s in start:
        distance[s] = 0.0
        heapq.heappush(heap, (0.0, s))
    count = 0
    while len(heap):
        d, v = heapq.heappop(heap)
        if d > distance[v]:
            continue
        touched[count] = v
        count += 1
        for k in range(first[v], first[v + 1]):
            w = near[k]
            new = d + length[k]
            if new < distance[w] and new <= reach:
                distance[w] = new
                heapq.heappush(heap, (new, w))
    return count


@njit(cache=True, nogil=True)
def ironed(points, rows, weight, first, near, edges_of):
    """Return `points[rows]` moved toward the mean of their mesh neighbours by `weight`.

    The first `edges_of` (n,) entries of a vertex's row in the graph are its true neighbours."""
    out = np.empty((len(rows), 3))
    for i in range(len(rows)):
        v = rows[i]
        n = edges_of[v]
        for a in range(3):
            mean = 0.0
            for k in range(first[v], first[v] + n):
                mean += points[near[k], a]
            out[i, a] = points[v, a] + (weight[i] * (mean / n - points[v, a]) if n > 0 else 0.0)
    return out
