# Numba gives intrinsics their first argument itself:
# pyright: reportCallIssue=false
"""Cloth on cloth: vertices that come near each other keep apart."""

import numpy as np
from numba import njit, prange

from .simd4 import dot, put, row


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def pairs(x, rest, gap, reach, away, beside, halves):
    """Return `(ends (k, 2), apart (k,), split (4,))`: vertices within `reach` (metres) of each other, how far apart they are to keep, and
    where the pairs of one half, of the other, and across begin.

    `gap` (n,) is what each wants; two that lie nearer at rest keep to nine tenths of that, and those nearer than `away` metres at `rest`
    (n, 3) are left out. Vertices of the same number in `beside` (n,) may touch, but for those below nothing. Cells of `reach`, sorted by
    their hash.
    """
    n = len(x)
    size = 1
    while size < 2 * n:
        size *= 2
    key, start, by_one = np.empty(n, np.int64), np.zeros(size + 1, np.int32), 1.0 / reach
    for part in prange(2):
        for i in range(part * n // 2, (part + 1) * n // 2):
            column = _place(int(np.floor(x[i, 0] * by_one)), int(np.floor(x[i, 1] * by_one)))
            key[i] = (column + int(np.floor(x[i, 2] * by_one))) & (size - 1)
    for i in range(n):
        start[key[i] + 1] += 1
    for k in range(size):
        start[k + 1] += start[k]
    order, fill, by, cell = np.empty(n, np.int32), start[:size].copy(), np.empty((n, 6)), np.empty((n, 3), np.int32)
    for i in range(n):
        order[fill[key[i]]] = i
        fill[key[i]] += 1
    for part in prange(2):
        for s in range(part * n // 2, (part + 1) * n // 2):  # what is read together lies together
            i = order[s]
            for a in range(3):
                by[s, a], by[s, 3 + a], cell[s, a] = x[i, a], rest[i, a], int(np.floor(x[i, a] * by_one))
    room = 8 * n
    ends, apart, count = np.empty((2, room, 2), np.int32), np.empty((2, room)), np.zeros(2, np.int64)
    for part in prange(2):
        count[part] = _pairs_of(part * n // 2, (part + 1) * n // 2, by, cell, gap, reach, away, beside, size, order, start, ends[part],
                                apart[part])
    split = np.zeros(4, np.int64)
    for part in range(2):
        for k in range(count[part]):
            split[1 + _half_of(ends[part, k], halves)] += 1
    for kind in range(3):
        split[kind + 1] += split[kind]
    out_ends, out_apart, at = np.empty((split[3], 2), np.int32), np.empty(split[3]), split[:3].copy()
    for part in range(2):
        for k in range(count[part]):
            kind = _half_of(ends[part, k], halves)
            out_ends[at[kind]], out_apart[at[kind]] = ends[part, k], apart[part, k]
            at[kind] += 1
    return out_ends, out_apart, split


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _half_of(pair, halves):
    one, two = pair[0] >= halves[1], pair[1] >= halves[1]
    return 2 if one != two else int(one)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True)
def _pairs_of(low, high, by, cell, gap, reach, away, beside, size, order, start, ends, apart):
    count = 0
    for s in range(low, high):
        px, py, pz = by[s, 0], by[s, 1], by[s, 2]
        x0, y0, z0 = cell[s, 0], cell[s, 1], cell[s, 2]
        i = order[s]
        for o in range(5):  # its own column of cells and half of those about it, so that each pair is met once
            tx, ty = x0 + (o + 4) // 3 - 1, y0 + (o + 4) % 3 - 1
            first = (_place(tx, ty) + z0 - (o > 0)) & (size - 1)
            last = first + (3 if o else 2)
            for turn in range(1 + (last > size)):  # past the end of the table at its beginning
                begin, end = (start[first], start[min(last, size)]) if turn == 0 else (0, start[last - size])
                for r in range(max(s + 1, begin) if o == 0 and turn == 0 else begin, end):
                    dx, dy, dz = px - by[r, 0], py - by[r, 1], pz - by[r, 2]
                    if dx * dx + dy * dy + dz * dz > reach * reach:
                        continue
                    far = (by[s, 3] - by[r, 3]) ** 2 + (by[s, 4] - by[r, 4]) ** 2 + (by[s, 5] - by[r, 5]) ** 2
                    if far < away * away:
                        continue
                    if cell[r, 0] != tx or cell[r, 1] != ty:
                        continue  # of another column in the same place
                    j = order[r]
                    keep = min(0.5 * (gap[i] + gap[j]), 0.9 * np.sqrt(far))
                    if keep < 0.15 * (gap[i] + gap[j]) or beside[i] == beside[j] >= 0 or count >= len(ends):  # neighbours in the weave
                        continue
                    ends[count, 0], ends[count, 1], apart[count] = i, j, keep
                    count += 1
    return count


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _place(x, y):
    return (np.int64(x) * 73856093) ^ (np.int64(y) * 19349663)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def keep_apart(x, p, w, ends, apart, split, friction):
    """Push the pairs `ends` (k, 2) `apart` (k,), and rub by Coulomb friction, the mean of the two's (n,)."""
    for part in prange(2):
        _apart_range(x, p, w, ends, apart, friction, split[part], split[part + 1])
    _apart_range(x, p, w, ends, apart, friction, split[2], split[3])


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _apart_range(x, p, w, ends, apart, friction, low, high):
    for k in range(low, high):
        i, j = ends[k, 0], ends[k, 1]
        xi, xj = row(x, i), row(x, j)
        way = xi - xj
        square = dot(way, way)
        both = w[i] + w[j]
        if square >= apart[k] * apart[k] or both == 0.0:
            continue
        length = max(np.sqrt(square), 1e-9)
        short = apart[k] - length
        normal = way * (1.0 / length)
        slide = (xi - row(p, i)) - (xj - row(p, j))
        slide = slide - normal * dot(slide, normal)
        far = np.sqrt(dot(slide, slide))
        back = min(1.0, 0.5 * (friction[i] + friction[j]) * short / far) if far > 1e-12 else 0.0
        move = normal * short - slide * back
        put(x, i, xi + move * (w[i] / both))
        put(x, j, xj - move * (w[j] / both))
