"""Which points stand out through the cloth they are nearest to."""

from numba import njit


@njit(cache=True, nogil=True, error_model="numpy")
def stand_kernel(points, facing, spot, triangle, where, nearest, distance, triangles, over, border, rest, outward, agree, least, stray,
                 under, stand, gap, roomy):
    """Fill `stand` (q,), metres above the over-layer or 0, `gap` (q,), metres under it or `under` where it is not near, and `roomy`
    (q,), how far the cloth it is nearest to lies from its open border less the margin.

    Of each of the points (q, 3) with unit `facing` and rest `spot`: the `triangle` it is nearest to, or -1, `where` (q, 3) on it, the
    `nearest` point (q, 3) and its `distance`; of the over-layer its points `over` (n, 3), `border` and `rest` by vertex, and which side
    is `outward`. `agree`, `least` and `stray` are how far it must rise along its facing, stand out, and may have come from its rest spot.
    """
    for q in range(len(points)):
        t = max(triangle[q], 0)
        side, rise, room, far = 0.0, 0.0, 0.0, 0.0
        i, j, k = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        for a in range(3):
            b, c = (a + 1) % 3, (a + 2) % 3
            normal = (over[j, b] - over[i, b]) * (over[k, c] - over[i, c]) - (over[j, c] - over[i, c]) * (over[k, b] - over[i, b])
            away = points[q, a] - nearest[q, a]
            side += away * normal
            rise += away * facing[q, a]
            room += where[q, a] * border[triangles[t, a]]
            at = where[q, 0] * rest[i, a] + where[q, 1] * rest[j, a] + where[q, 2] * rest[k, a]
            far += (at - spot[q, a]) ** 2
        side *= outward
        there = triangle[q] >= 0 and far < stray * stray
        out = there and side > 0 and rise > agree * distance[q] and room > 0 and distance[q] > least
        stand[q] = distance[q] if out else 0.0
        roomy[q] = room
        gap[q] = distance[q] if there and side <= 0 else under
