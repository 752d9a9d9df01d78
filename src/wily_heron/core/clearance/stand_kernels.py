"""Which points stand out through the cloth they are nearest to."""

from numba import njit


@njit(cache=True, nogil=True, error_model="numpy")
def stand_kernel(points, facing, spot, triangle, where, nearest, distance, triangles, normals, border, rest, outward, agree, least, stray,
                 under, stand, gap):
    """Fill `stand` (q,), metres above the over-layer or 0, and `gap` (q,), metres under it or `under` where it is not near.

    Of each of the points (q, 3) with unit `facing` and rest `spot`: the `triangle` it is nearest to, or -1, `where` (q, 3) on it, the
    `nearest` point (q, 3) and its `distance`; of the over-layer `normals` by triangle, `border` and `rest` by vertex, and which side is
    `outward`. `agree`, `least` and `stray` are how far it must rise along its facing, stand out, and may have come from its rest spot.
    """
    for q in range(len(points)):
        t = max(triangle[q], 0)
        side, rise, room, far = 0.0, 0.0, 0.0, 0.0
        for a in range(3):
            away = points[q, a] - nearest[q, a]
            side += away * normals[t, a]
            rise += away * facing[q, a]
            room += where[q, a] * border[triangles[t, a]]
            at = 0.0
            for c in range(3):
                at += where[q, c] * rest[triangles[t, c], a]
            far += (at - spot[q, a]) ** 2
        side *= outward
        there = triangle[q] >= 0 and far < stray * stray
        out = there and side > 0 and rise > agree * distance[q] and room > 0 and distance[q] > least
        stand[q] = distance[q] if out else 0.0
        gap[q] = distance[q] if there and side <= 0 else under
