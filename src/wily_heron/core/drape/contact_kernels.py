# Numba gives intrinsics their first argument itself:
# pyright: reportCallIssue=false, reportGeneralTypeIssues=false
"""Contact with a moving body: each vertex keeps the triangle it is nearest to and walks on from it. Points, and the body's normals, are
rows of four; so are, one after the other, where each point of the body begins the frame and how far it goes in it."""

import numpy as np
from numba import njit, prange

from ..space.triangle_kernels import nearest_weights
from .wide import dot, of_row, put, row

_STEPS = 6
"""How many triangles a vertex may walk over in one substep."""


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _off(xi, body, triangles, k, t):
    # where on triangle k, and in which way from it, the place xi is nearest at time t of the frame
    i, j, m = 2 * triangles[k, 0], 2 * triangles[k, 1], 2 * triangles[k, 2]
    a, b, c = row(body, i) + row(body, i + 1) * t, row(body, j) + row(body, j + 1) * t, row(body, m) + row(body, m + 1) * t
    u, v = nearest_weights(of_row(xi, 0), of_row(xi, 1), of_row(xi, 2), of_row(a, 0), of_row(a, 1), of_row(a, 2),
                           of_row(b, 0), of_row(b, 1), of_row(b, 2), of_row(c, 0), of_row(c, 1), of_row(c, 2))
    return u, v, xi - (a * (1.0 - u - v) + b * u + c * v)


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _touch(xi, body, t, normals, triangles, across, k):
    # walk from triangle k to the nearest; returns it, the barycentric weights, the gap and its normal
    u, v, way = _off(xi, body, triangles, k, t)
    square = dot(way, way)
    for _ in range(_STEPS):
        moved = False
        for s in range(3):  # sides lie opposite the corner whose weight is nothing
            weight = v if s == 0 else (1.0 - u - v if s == 1 else u)
            if weight > 1e-9:
                continue
            other = across[k, s]
            if other < 0:
                continue
            u2, v2, way2 = _off(xi, body, triangles, other, t)
            square2 = dot(way2, way2)
            if square2 < square - 1e-14:
                k, u, v, way, square, moved = other, u2, v2, way2, square2, True
                break
        if not moved:
            break
    normal = row(normals, triangles[k, 0]) * (1.0 - u - v) + row(normals, triangles[k, 1]) * u + row(normals, triangles[k, 2]) * v
    normal = normal * (1.0 / max(np.sqrt(dot(normal, normal)), 1e-12))
    return k, u, v, dot(way, normal), normal


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _moved(body, triangles, k, u, v, step):
    # how far a point of triangle k goes in a step
    a, b, c = 2 * triangles[k, 0] + 1, 2 * triangles[k, 1] + 1, 2 * triangles[k, 2] + 1
    return (row(body, a) * (1.0 - u - v) + row(body, b) * u + row(body, c) * v) * step


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def contacts(x, p, near, facing, body, t, step, normals, triangles, across, thick, friction, rub, push, idle, moves, drift, halves):
    """Push every vertex that is nearer than `thick` (n,) out of the body, and with `rub` hold it by Coulomb friction against this
    push and the one before, kept in `push` (n,); `friction` is each one's (n,).

    `near` (n,) is each one's triangle, `facing` (n,) one on the other side where it is pinched, -1 for none; both are walked on.
    `body` (2k, 4) tells its points at time `t` of the frame and how far they go in the `step` that ends then, `normals` (k, 4) are theirs.
    The push leaves no velocity along the normal but the body's own; between two skins the vertex goes to the middle. `idle` (n,) is how far
    each may still move before it can touch: it is passed over until it has, the body moving at most `moves` (n,) metres there since the
    last call besides its `drift` (1, 4) in a substep.
    """
    for part in prange(2):
        for i in range(halves[part], halves[part + 1]):
            if not rub:
                push[i] = 0.0
            if near[i] < 0:
                continue
            xi, pi = row(x, i), row(p, i)
            if idle[i] > 0.0:
                way = xi - pi - row(drift, 0)
                idle[i] -= moves[i] + np.sqrt(dot(way, way))
                if idle[i] > 0.0:
                    continue
            k, u, v, gap, normal = _touch(xi, body, t, normals, triangles, across, near[i])
            near[i] = k
            short = thick[i] - gap
            if facing[i] >= 0:
                k2, u2, v2, gap2, normal2 = _touch(xi, body, t, normals, triangles, across, facing[i])
                facing[i] = k2
                short2 = thick[i] - gap2
                if short > 0 and short2 > 0:  # pinched: to the middle, and calm
                    xi = xi + (normal * short + normal2 * short2) * 0.5
                    put(x, i, xi)
                    put(p, i, xi - (_moved(body, triangles, k, u, v, step) + _moved(body, triangles, k2, u2, v2, step)) * 0.5)
                    continue
                if short2 > short:
                    k, u, v, short, normal = k2, u2, v2, short2, normal2
            if short <= 0:
                idle[i] = -short
                if push[i] == 0.0:
                    continue
                short = 0.0
            if not rub:
                push[i] = short
            xi = xi + normal * short
            slide = xi - pi - _moved(body, triangles, k, u, v, step)
            along = dot(slide, normal)
            if along > 0:
                put(p, i, pi + normal * along)
            if rub:
                slide = slide - normal * along
                far = np.sqrt(dot(slide, slide))
                if far > 1e-12:
                    xi = xi - slide * min(1.0, friction[i] * (short + push[i]) / far)
            put(x, i, xi)
