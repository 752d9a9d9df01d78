# Numba gives intrinsics their first argument itself:
# pyright: reportCallIssue=false
"""What a ray meets of trees of boxes over triangles (see tree_kernels)."""

import numpy as np
from numba import njit

from .simd8 import box_hits, first_lane, triangle_blocks, triangle_hits
from .tree_kernels import EVEN, STACK, pushed

_LATE = 3
"""So many of what has hidden points from a side are remembered, and of the sides last seen from."""


@njit(cache=True, nogil=True, inline="always")
def _inverse(d):
    return np.float32(1.0 / d if abs(d) > 1e-12 else 1e12)


@njit(cache=True, nogil=True)
def ray_hits(origins, directions, reach, order, kids, boxes, leaves, distance, hit):
    """First triangle met from each origin along its unit direction within `reach` metres: `distance` (q,) or inf, `hit` or -1."""
    stack, waits = np.empty(STACK, np.int64), np.empty(STACK, np.float32)
    near, far = np.empty(8, np.float32), np.empty(8)
    for q in range(origins.shape[0]):
        ox, oy, oz = origins[q, 0], origins[q, 1], origins[q, 2]
        dx, dy, dz = directions[q, 0], directions[q, 1], directions[q, 2]
        sx, sy, sz, ix, iy, iz = np.float32(ox), np.float32(oy), np.float32(oz), _inverse(dx), _inverse(dy), _inverse(dz)
        best, hit[q], top = reach, -1, 0
        stack[0], waits[0] = 0, 0.0
        while top >= 0:
            node = stack[top]
            top -= 1
            just = EVEN * best
            if waits[top + 1] > just:
                continue
            if node >= 0:
                bits = box_hits(boxes, node, sx, sy, sz, ix, iy, iz, np.float32(just), near)
                top = pushed(bits, near, kids, node, stack, waits, top)
                continue
            bits = triangle_hits(leaves, -1 - node, ox, oy, oz, dx, dy, dz, just, far)
            while bits:
                k = first_lane(bits)
                bits &= bits - 1
                if far[k] < best or (far[k] == best and 0 <= hit[q] and order[-1 - node, k] < hit[q]):
                    best, hit[q] = far[k], order[-1 - node, k]
        distance[q] = best if hit[q] >= 0 else np.inf


@njit(cache=True, nogil=True)
def _first(late, place, value):
    """Put a value first, those before `place` one on."""
    for k in range(place, 0, -1):
        late[k] = late[k - 1]
    late[0] = value


@njit(cache=True, nogil=True, inline="always")
def _blocker(ox, oy, oz, dx, dy, dz, inverse, reach, roots, kids, boxes, leaves, stack, near):
    # a leaf that a ray meets within `reach`, of the trees with these roots one after the other, or -1
    sx, sy, sz, far = np.float32(ox), np.float32(oy), np.float32(oz), np.float32(reach)
    for root in roots:
        top = 0
        stack[0] = root
        while top >= 0:
            node = stack[top]
            top -= 1
            if node >= 0:
                bits = box_hits(boxes, node, sx, sy, sz, inverse[0], inverse[1], inverse[2], far, near)
                while bits:
                    top += 1
                    stack[top] = kids[node, first_lane(bits)]
                    bits &= bits - 1
            elif triangle_blocks(leaves, -1 - node, ox, oy, oz, dx, dy, dz, reach):
                return -1 - node
    return -1


@njit(cache=True, nogil=True)
def escapes(points, facing, views, beside, least, reach, roots, kids, boxes, leaves, out):
    """Set `out` (q,) to one of `views` (v, 3) that makes at least the cosine `least` with a point's `facing` and along which a ray from it
    meets nothing within `reach` metres. The trees' arrays stand one after the other, their root nodes at `roots`.

    Points that lie near come one after the other: the views that were free of late are asked first, and from each view what has hidden
    points of late, and what has hidden this one from those `beside` it (v, b), which come before it; but for those the first view that is
    free is told."""
    stack, near, inverse = np.empty(STACK, np.int64), np.empty(8, np.float32), np.empty(views.shape, np.float32)
    for v in range(views.shape[0]):
        inverse[v, 0], inverse[v, 1], inverse[v, 2] = _inverse(views[v, 0]), _inverse(views[v, 1]), _inverse(views[v, 2])
    hid, by, seen = np.full((views.shape[0], _LATE), -1), np.empty(views.shape[0], np.int64), np.full(_LATE, -1)
    for q in range(points.shape[0]):
        ox, oy, oz = points[q, 0], points[q, 1], points[q, 2]
        by[:] = -1
        for turn in range(-_LATE, views.shape[0]):
            v = turn if turn >= 0 else seen[turn]
            if v < 0:
                continue
            dx, dy, dz = views[v, 0], views[v, 1], views[v, 2]
            if dx * facing[q, 0] + dy * facing[q, 1] + dz * facing[q, 2] <= least:
                continue
            leaf, place = -1, _LATE - 1
            for k in range(_LATE + beside.shape[1]):
                late = hid[v, k] if k < _LATE else by[beside[v, k - _LATE]]
                if late >= 0 and triangle_blocks(leaves, late, ox, oy, oz, dx, dy, dz, reach):
                    leaf, place = late, min(k, place)
                    break
            if leaf < 0:
                leaf = _blocker(ox, oy, oz, dx, dy, dz, inverse[v], reach, roots, kids, boxes, leaves, stack, near)
            if leaf < 0:
                out[q] = v
                if turn >= 0:
                    _first(seen, _LATE - 1, v)
                break
            by[v] = leaf
            _first(hid[v], place, leaf)
