# Numba gives intrinsics their first argument itself:
# pyright: reportCallIssue=false
"""What a ray meets of trees of boxes over triangles (see tree_kernels)."""

import numpy as np
from numba import njit

from .eight import box_hits, first_lane, triangle_blocks, triangle_hits
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


@njit(cache=True, nogil=True)
def escapes(points, facing, views, least, reach, roots, kids, boxes, leaves, out):
    """Set `out` (q,) to one of `views` (v, 3) that makes at least the cosine `least` with a point's `facing` and along which a ray from it
    meets nothing within `reach` metres. The trees' arrays stand one after the other, their root nodes at `roots`.

    Points that lie near come one after the other: the views that were free of late are asked first, and from each view what has hidden
    points of late; but for those the first view that is free is told."""
    stack, waits = np.empty(STACK, np.int64), np.empty(STACK, np.float32)
    near, hid, seen = np.empty(8, np.float32), np.full((views.shape[0], _LATE), -1), np.full(_LATE, -1)
    for q in range(points.shape[0]):
        ox, oy, oz = points[q, 0], points[q, 1], points[q, 2]
        sx, sy, sz = np.float32(ox), np.float32(oy), np.float32(oz)
        for turn in range(-_LATE, views.shape[0]):
            v = turn if turn >= 0 else seen[turn]
            if v < 0:
                continue
            dx, dy, dz = views[v, 0], views[v, 1], views[v, 2]
            if dx * facing[q, 0] + dy * facing[q, 1] + dz * facing[q, 2] <= least:
                continue
            late = 0
            while late < _LATE and hid[v, late] >= 0 and not triangle_blocks(leaves, hid[v, late], ox, oy, oz, dx, dy, dz, reach):
                late += 1
            if late < _LATE and hid[v, late] >= 0:
                _first(hid[v], late, hid[v, late])
                continue
            ix, iy, iz = _inverse(dx), _inverse(dy), _inverse(dz)
            free = True
            for r in range(roots.shape[0]):
                top = 0
                stack[0] = roots[r]
                while top >= 0:
                    node = stack[top]
                    top -= 1
                    if node >= 0:
                        bits = box_hits(boxes, node, sx, sy, sz, ix, iy, iz, np.float32(reach), near)
                        top = pushed(bits, near, kids, node, stack, waits, top)
                    elif triangle_blocks(leaves, -1 - node, ox, oy, oz, dx, dy, dz, reach):
                        free = False
                        _first(hid[v], _LATE - 1, -1 - node)
                        break
                if not free:
                    break
            if free:
                out[q] = v
                if turn >= 0:
                    _first(seen, _LATE - 1, v)
                break
