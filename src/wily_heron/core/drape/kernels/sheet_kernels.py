"""What is measured once on the flat or resting cloth: who lies across each side, bending weights, straight walks over the surface."""

import numpy as np
from numba import njit

CROWDED = 62
"""The colour of constraints for which no other is left."""


@njit(cache=True, nogil=True, error_model="numpy")
def across_sides(face_edges, edge_count):
    """Return `(across (m, 3), edge_faces (e, 2))`: the face over each side, -1 at a border or where more than two faces meet."""
    faces = np.full((edge_count, 2), -1, np.int32)
    use = np.zeros(edge_count, np.int32)
    m = len(face_edges)
    for t in range(m):
        for s in range(3):
            e = face_edges[t, s]
            if use[e] < 2:
                faces[e, use[e]] = t
            use[e] += 1
    across = np.full((m, 3), -1, np.int32)
    for t in range(m):
        for s in range(3):
            e = face_edges[t, s]
            if use[e] == 2:
                across[t, s] = faces[e, 0] + faces[e, 1] - t
    for e in range(edge_count):
        if use[e] != 2:
            faces[e, 1] = -1
    return across, faces


@njit(cache=True, nogil=True, error_model="numpy")
def _less(a, b):
    return a[0] - b[0], a[1] - b[1], a[2] - b[2]


@njit(cache=True, nogil=True, error_model="numpy")
def _dot(a, b):
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


@njit(cache=True, nogil=True, error_model="numpy")
def _cross(a, b):
    return a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]


@njit(cache=True, nogil=True, error_model="numpy")
def bend_weights(points, corners, weight, room, curve, feels):
    """Fill `weight` (b, 4), the faces' `room` (b,) m2 and how far the sum stands off at rest `curve` (b,), and what it
    `feels` (b, 3) of a unit of curvature to the left of the edge, against it and mixed, over the room, for `corners` (b, 4): the edge's
    two ends, then the far corner of the face on its left and on its right.

    Follows: Bergou et al., A quadratic bending model for inextensible surfaces, 2006.
    """
    for k in range(len(corners)):
        a, b, c, d = points[corners[k, 0]], points[corners[k, 1]], points[corners[k, 2]], points[corners[k, 3]]
        e0, e1, e2, e3, e4 = _less(b, a), _less(c, a), _less(d, a), _less(c, b), _less(d, b)
        n1, n2 = _cross(e0, e1), _cross(e2, e0)
        twice1, twice2 = max(np.sqrt(_dot(n1, n1)), 1e-14), max(np.sqrt(_dot(n2, n2)), 1e-14)
        c01, c02 = _dot(e0, e1) / twice1, _dot(e0, e2) / twice2
        c03, c04 = -_dot(e0, e3) / twice1, -_dot(e0, e4) / twice2
        weight[k, 0], weight[k, 1], weight[k, 2], weight[k, 3] = c03 + c04, c01 + c02, -c01 - c03, -c02 - c04
        room[k] = 0.5 * (twice1 + twice2)
        side = max(np.sqrt(_dot(e0, e0)), 1e-14)
        ax, cx, dx = side, _dot(e1, e0) / side, _dot(e2, e0) / side  # laid flat, the edge along x
        cy, dy = twice1 / side, -twice2 / side
        feels[k, 0] = 0.5 * (weight[k, 2] * cy * cy + weight[k, 3] * dy * dy) / room[k]
        feels[k, 1] = 0.5 * (weight[k, 1] * ax * ax + weight[k, 2] * cx * cx + weight[k, 3] * dx * dx) / room[k]
        feels[k, 2] = -0.5 * (weight[k, 2] * cx * cy + weight[k, 3] * dx * dy) / room[k]
        along, square = 0.0, 0.0
        for x in range(3):
            off = weight[k, 0] * a[x] + weight[k, 1] * b[x] + weight[k, 2] * c[x] + weight[k, 3] * d[x]
            along += off * (n1[x] / twice1 + n2[x] / twice2)
            square += off * off
        curve[k] = np.sign(along) * np.sqrt(square)


@njit(cache=True, nogil=True, error_model="numpy")
def _length(points, i, j):
    return np.sqrt((points[i, 0] - points[j, 0]) ** 2 + (points[i, 1] - points[j, 1]) ** 2 + (points[i, 2] - points[j, 2]) ** 2)


@njit(cache=True, nogil=True, error_model="numpy")
def _apex(lx, ly, rx, ry, from_left, from_right):
    # the corner beyond the side from right to left, at these distances from its ends, away from the origin
    dx, dy = lx - rx, ly - ry
    side = max(np.sqrt(dx * dx + dy * dy), 1e-14)
    ux, uy = dx / side, dy / side
    along = (from_right * from_right - from_left * from_left + side * side) / (2.0 * side)
    off = np.sqrt(max(from_right * from_right - along * along, 0.0))
    return rx + along * ux + off * uy, ry + along * uy - off * ux


@njit(cache=True, nogil=True, error_model="numpy")
def walks(points, triangles, across, lengths):
    """Walk straight over the surface from every corner of every face; return `(ends (l, 2), distance (l,))`.

    For each of `lengths` (metres, rising) the first corner met in sight at about that distance ends a link; the distance is that of the
    straight line in the strip of faces laid flat, which is the distance along the surface.
    """
    m, kinds = len(triangles), len(lengths)
    ends, far = np.empty((3 * m * kinds, 2), np.int32), np.empty(3 * m * kinds)
    count = 0
    for t in range(m):
        for s in range(3):
            v, right_end, left_end = triangles[t, s], triangles[t, (s + 1) % 3], triangles[t, (s + 2) % 3]
            size_r, size_l, over = _length(points, v, right_end), _length(points, v, left_end), _length(points, right_end, left_end)
            if size_r < 1e-12 or size_l < 1e-12:
                continue
            wide = np.arccos(min(max((size_r**2 + size_l**2 - over**2) / (2 * size_r * size_l), -1.0), 1.0))
            rx, ry = size_r * np.cos(0.5 * wide), -size_r * np.sin(0.5 * wide)  # the walk goes along x
            lx, ly = size_l * np.cos(0.5 * wide), size_l * np.sin(0.5 * wide)
            left, right = np.arctan2(ly, lx), np.arctan2(ry, rx)
            face, side, found = t, (s + 1) % 3, 0
            for _ in range(400):
                face_next = across[face, side]
                if face_next < 0 or found == kinds:
                    break
                at = 0
                for c in range(3):
                    if triangles[face_next, c] != left_end and triangles[face_next, c] != right_end:
                        at = c
                u = triangles[face_next, at]
                ux, uy = _apex(lx, ly, rx, ry, _length(points, u, left_end), _length(points, u, right_end))
                distance, angle = np.sqrt(ux * ux + uy * uy), np.arctan2(uy, ux)
                while found < kinds and distance > 1.3 * lengths[found]:
                    found += 1
                if found < kinds and distance > 0.8 * lengths[found] and right - 1e-9 <= angle <= left + 1e-9 and u != v:
                    ends[count, 0], ends[count, 1], far[count] = v, u, distance
                    count += 1
                    found += 1
                if angle > 0:
                    lx, ly, left_end = ux, uy, u
                    left = min(left, angle)
                else:
                    rx, ry, right_end = ux, uy, u
                    right = max(right, angle)
                face = face_next
                for c in range(3):
                    one, two = triangles[face, c], triangles[face, (c + 1) % 3]
                    if (one == left_end and two == right_end) or (one == right_end and two == left_end):
                        side = c
    return ends[:count], far[:count]


@njit(cache=True, nogil=True)
def colours(rows, group, vertices):
    """Return `(k,)` a colour for each constraint `rows` (k, c): those of one colour in one `group` (k,), ascending, share no vertex, but
    for those of the colour `CROWDED`, about which nothing is known; there are so many `vertices` in all."""
    out = np.empty(len(rows), np.int64)
    used, stamp = np.zeros(vertices, np.int64), np.full(vertices, -1, np.int64)
    for k in range(len(rows)):
        taken = 0
        for c in range(rows.shape[1]):
            v = rows[k, c]
            if stamp[v] != group[k]:
                stamp[v], used[v] = group[k], 0
            taken |= used[v]
        colour = 0
        while colour < CROWDED and taken & (1 << colour):
            colour += 1
        for c in range(rows.shape[1]):
            used[rows[k, c]] |= 1 << colour
        out[k] = colour
    return out
