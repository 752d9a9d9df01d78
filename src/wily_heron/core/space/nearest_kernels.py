# Numba gives intrinsics their first argument itself:
# pyright: reportCallIssue=false
"""What is nearest to a point in a tree of boxes over triangles (see tree_kernels)."""

import numpy as np
from numba import njit

from .simd8 import box_gaps, first_lane, normals_agree, planes_near, triangle_gaps
from .tree_kernels import STACK, pushed
from .triangle_kernels import nearest_weights

_RUN, _SOME = 64, 256
"""So many queries at the most are asked together, of so many triangles at the most."""


@njit(cache=True, nogil=True, inline="always")
def _pick(bits, far, leaf, order, best, found):
    # the nearest of the lanes, and of those as near the first
    while bits:
        k = first_lane(bits)
        bits &= bits - 1
        if far[k] < best or (far[k] == best and found >= 0 and order[leaf, k] < order[found // 8, found % 8]):
            best, found = far[k], 8 * leaf + k
    return best, found


@njit(cache=True, nogil=True, inline="always")
def _nearest(px, py, pz, facing, agree, best, even, last, order, kids, boxes, leaves, stack, waits, near, far):
    # the square of how far the nearest is, if less than `best`, and its leaf and lane as one number, or -1
    sx, sy, sz = np.float32(px), np.float32(py), np.float32(pz)
    found, top = -1, 0
    stack[0], waits[0] = 0, 0.0
    if last >= 0:
        top = 1
        stack[1], waits[1] = -1 - last // 8, 0.0
    while top >= 0:
        node = stack[top]
        top -= 1
        just = even * best + 1e-24 * (even - 1.0)
        if waits[top + 1] > just:
            continue
        if node >= 0:
            bits = box_gaps(boxes, node, sx, sy, sz, np.float32(1.00001 * just), near)
            top = pushed(bits, near, kids, node, stack, waits, top)
            continue
        leaf = -1 - node
        bits = planes_near(leaves, leaf, px, py, pz, just)
        if agree > -1.0:
            bits &= normals_agree(leaves, leaf, facing[0], facing[1], facing[2], agree)
        if bits:
            bits &= triangle_gaps(leaves, leaf, px, py, pz, just, far)
        best, found = _pick(bits, far, leaf, order, best, found)
    return best, found


_nearest_alone = njit(cache=True, nogil=True)(_nearest.py_func)
"""The same for the few that are not asked together: taken in there too, it would take the compiler twice as long."""


@njit(cache=True, nogil=True, inline="always")
def _told(q, px, py, pz, best, found, order, leaves, hit, where, gap):
    gap[q] = np.sqrt(best)
    hit[q] = -1
    if found >= 0:
        leaf, k = found // 8, found % 8
        hit[q] = order[leaf, k]
        t = leaves[leaf, :, k]
        v, w = nearest_weights(px, py, pz, t[0], t[1], t[2], t[3], t[4], t[5], t[6], t[7], t[8])
        where[q, 0], where[q, 1], where[q, 2] = 1.0 - v - w, v, w


@njit(cache=True, nogil=True)
def closest(queries, facing, agree, limit, even, order, kids, boxes, leaves, hit, where, gap):
    """Nearest triangle of each query (q, 3): `hit` (q,), barycentric `where` (q, 3), distance `gap` (q,).

    With `agree` > -1 only triangles whose unit normals make at least that cosine with `facing` (q, 3) count; none within `limit` (q,)
    metres leaves hit = -1. With `even` EVEN rather than 1, of several that are as near the first counts, however the tree was built.
    Neighbouring queries mostly lie on neighbouring triangles, so each begins at the last one's leaf.
    """
    stack, waits = np.empty(STACK, np.int64), np.empty(STACK, np.float32)
    near, far = np.empty(8, np.float32), np.empty(8)
    last = -1
    for q in range(queries.shape[0]):
        px, py, pz = queries[q, 0], queries[q, 1], queries[q, 2]
        way = facing[q if agree > -1.0 else 0]
        best, found = _nearest(px, py, pz, way, agree, limit[q] * limit[q], even, last, order, kids, boxes, leaves, stack, waits, near, far)
        last = found if found >= 0 else last
        _told(q, px, py, pz, best, found, order, leaves, hit, where, gap)


@njit(cache=True, nogil=True)
def closest_together(queries, facing, agree, limit, even, order, kids, boxes, leaves, hit, where, gap):
    """As `closest`, but queries that follow one another and face the same way, as points of one face do, are asked together: which
    triangles any of them can be nearest to is found once."""
    stack, waits = np.empty(STACK, np.int64), np.empty(STACK, np.float32)
    near, far, off, place = np.empty(8, np.float32), np.empty(8), np.empty(_SOME), np.empty(_SOME, np.int64)
    some, which = np.empty((_SOME // 8, 12, 8)), np.empty((_SOME // 8, 8), np.int64)
    last, q, count = -1, 0, queries.shape[0]
    while q < count:
        end = q + 1
        while end < count and end - q < _RUN and facing[end, 0] == facing[q, 0] and facing[end, 1] == facing[q, 1] and \
                facing[end, 2] == facing[q, 2]:
            end += 1
        cx, cy, cz, most, size = 0.0, 0.0, 0.0, 0.0, 0.0
        for i in range(q, end):
            cx, cy, cz, most = cx + queries[i, 0], cy + queries[i, 1], cz + queries[i, 2], max(most, limit[i])
        cx, cy, cz = cx / (end - q), cy / (end - q), cz / (end - q)
        for i in range(q, end):
            size = max(size, (queries[i, 0] - cx) ** 2 + (queries[i, 1] - cy) ** 2 + (queries[i, 2] - cz) ** 2)
        held = _about(cx, cy, cz, facing[q], agree, most, np.sqrt(size), last, kids, boxes, leaves, stack, waits, near, far, off, place)
        if held > 0:
            last = place[0]
            _set(place, held, order, leaves, some, which)
        for i in range(q, end):
            px, py, pz = queries[i, 0], queries[i, 1], queries[i, 2]
            best, found = limit[i] * limit[i], -1
            if held < 0:
                best, found = _nearest_alone(px, py, pz, facing[i], agree, best, even, last, order, kids, boxes, leaves, stack, waits, near,
                                             far)
                last = found if found >= 0 else last
                _told(i, px, py, pz, best, found, order, leaves, hit, where, gap)
                continue
            aside = np.sqrt((px - cx) ** 2 + (py - cy) ** 2 + (pz - cz) ** 2) + 1e-9
            for block in range((held + 7) // 8):
                just = even * best + 1e-24 * (even - 1.0)
                least = max(off[8 * block] - aside, 0.0)
                if least * least > just:
                    break
                bits = planes_near(some, block, px, py, pz, just)
                if bits:
                    bits &= triangle_gaps(some, block, px, py, pz, just, far)
                best, found = _pick(bits, far, block, which, best, found)
            _told(i, px, py, pz, best, found, which, some, hit, where, gap)
        q = end


@njit(cache=True, nogil=True, inline="always")
def _about(px, py, pz, facing, agree, most, size, last, kids, boxes, leaves, stack, waits, near, far, off, place):
    # what any point within `size` of this one can be nearest to, of triangles that face so and no farther than `most` from it: how far
    # `off` each is, the nearest first, and its `place`, leaf and lane as one number; how many, or -1 if there are too many
    sx, sy, sz = np.float32(px), np.float32(py), np.float32(pz)
    held, top, reach = 0, 0, 1.00001 * (most + size) + 1e-9
    stack[0], waits[0] = 0, 0.0
    again = last >= 0  # the last one's leaf is looked at first for how near it is, and again in its turn
    if again:
        top = 1
        stack[1], waits[1] = -1 - last // 8, 0.0
    while top >= 0:
        node = stack[top]
        top -= 1
        if waits[top + 1] > reach * reach:
            continue
        if node >= 0:
            bits = box_gaps(boxes, node, sx, sy, sz, np.float32(1.00001 * reach * reach), near)
            top = pushed(bits, near, kids, node, stack, waits, top)
            continue
        leaf = -1 - node
        bits = normals_agree(leaves, leaf, facing[0], facing[1], facing[2], agree) & planes_near(leaves, leaf, px, py, pz, reach * reach)
        if bits:
            bits &= triangle_gaps(leaves, leaf, px, py, pz, reach * reach, far)
        while bits:
            k = first_lane(bits)
            bits &= bits - 1
            gap = np.sqrt(far[k])
            reach = min(reach, 1.00001 * (gap + 2.0 * size) + 1e-9)
            if again:
                continue
            if held == len(off):
                return -1
            j = held
            while j > 0 and off[j - 1] > gap:
                off[j], place[j] = off[j - 1], place[j - 1]
                j -= 1
            off[j], place[j] = gap, 8 * leaf + k
            held += 1
        again = False
    while held > 0 and off[held - 1] > reach:
        held -= 1
    return held


@njit(cache=True, nogil=True, inline="always")
def _set(place, held, order, leaves, some, which):
    # the triangles at these places in leaves of their own, what is over repeating the first
    for j in range(held + -held % 8):
        at = place[j if j < held else 0]
        for a in range(12):
            some[j // 8, a, j % 8] = leaves[at // 8, a, at % 8]
        which[j // 8, j % 8] = order[at // 8, at % 8]


@njit(cache=True, nogil=True)
def weighted(values, triangles, hit, where):
    """Values (n, 3) of the vertices at barycentric places `where` (q, 3) of the triangles `hit` (q,); those of the first for -1."""
    out = np.empty((hit.shape[0], 3))
    for q in range(hit.shape[0]):
        t = max(hit[q], 0)
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        for k in range(3):
            out[q, k] = where[q, 0] * values[a, k] + where[q, 1] * values[b, k] + where[q, 2] * values[c, k]
    return out
