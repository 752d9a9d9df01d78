# Numba gives intrinsics their first argument itself:
# pyright: reportCallIssue=false, reportGeneralTypeIssues=false
"""What each vertex does for itself between one substep and the next: it meets the moving body, takes its velocity, and goes on.

In contact each vertex keeps the triangle it is nearest to and walks on from it. Points, velocities and normals are rows of four; so are,
one after the other, where each point of the body begins the frame and how far it goes in it.
"""

import numpy as np
from numba import njit, prange

from ...space.triangle_kernels import nearest_weights
from .simd4 import dot, of_row, put, row

_STEPS = 6
"""How many triangles a vertex may walk over in one substep."""


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, forceinline=True)
def _off(xi, body, triangles, k, t):
    # where on triangle k, and in which way from it, the place xi is nearest at time t of the frame. Taken in as machine
    # code, not as source: it stands in five places, and the compiler would go through it in each
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


_touch_across = njit(cache=True, nogil=True, error_model="numpy", fastmath=True)(_touch.py_func)
"""The same for the few vertices that are pinched: taken in twice, it would take the compiler twice as long."""


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _moved(body, triangles, k, u, v, step):
    # how far a point of triangle k goes in a step
    a, b, c = 2 * triangles[k, 0] + 1, 2 * triangles[k, 1] + 1, 2 * triangles[k, 2] + 1
    return (row(body, a) * (1.0 - u - v) + row(body, b) * u + row(body, c) * v) * step


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, inline="always")
def _contact(i, xi, pi, near, facing, thick, friction, push, idle, slack, body, t, step, normals, triangles, across, rub):
    # Push vertex i, at xi and before at pi, out of the body, and with `rub` hold it by friction; returns both places. `slack` is how much
    # less than its gap the vertex may still move before it can touch.
    k, u, v, gap, normal = _touch(xi, body, t, normals, triangles, across, near[i])
    near[i] = k
    short = thick[i] - gap
    if facing[i] >= 0:
        k2, u2, v2, gap2, normal2 = _touch_across(xi, body, t, normals, triangles, across, facing[i])
        facing[i] = k2
        short2 = thick[i] - gap2
        if short > 0 and short2 > 0:  # pinched: to the middle, and calm
            idle[i] = 0.0
            xi = xi + (normal * short + normal2 * short2) * 0.5
            return xi, xi - (_moved(body, triangles, k, u, v, step) + _moved(body, triangles, k2, u2, v2, step)) * 0.5
        if short2 > short:
            k, u, v, short, normal = k2, u2, v2, short2, normal2
    idle[i] = max(-short - slack, 0.0)
    if short <= 0:
        if push[i] == 0.0:
            return xi, pi
        short = 0.0
    if not rub:
        push[i] = short
    xi = xi + normal * short
    slide = xi - pi - _moved(body, triangles, k, u, v, step)
    along = dot(slide, normal)
    if along > 0:
        pi = pi + normal * along
    if rub:
        slide = slide - normal * along
        far = np.sqrt(dot(slide, slide))
        if far > 1e-12:
            xi = xi - slide * min(1.0, friction[i] * (short + push[i]) / far)
    return xi, pi


@njit(cache=True, nogil=True, error_model="numpy", fastmath=True, parallel=True)
def go_on(x, p, v, w, air, wind, fall, drag, held, touch, body, t, step, dt, ends, begins, halves):
    """End a substep at time `t` of the frame, begin the next, or both: for each vertex of x, p, v (n, 4), now, before and its velocity.

    What `ends` is kept out of the body and rubs on it, and takes its velocity from what the substep of `dt` seconds came to. What `begins`
    goes on by its velocity under gravity (`fall`, (1, 4) m/s a substep), the air and damping, and is taken where it is held; then it is
    pushed out of the body where that will be. `step` is the share of the frame a substep takes.

    `air` are each vertex's normal (n, 4), its share of the faces' area (n,), the pressure on its inside (n,) N/m2 and the share of its
    velocity kept (n,); against `wind` (1, 4) it is braked by `drag`, half the density of air times the drag coefficient (kg/m3), which
    never reverses the velocity it acts against. `held` are each vertex's place (n,) among what is held, -1 for none, the share of the way
    it goes (h,), and where to at the frame's begin and end (h, 3).

    `touch` are, of each (n,), the triangle it is near, one on the other side where it is pinched, -1 for none (both are walked on), how far
    off it is kept, its friction, the push of the substep's beginning, how far it may still move before it can touch, and how far the body
    moves there in a substep at most, besides its drift. `body` are its points' way (2k, 4), normals (k, 4), triangles, the triangles across
    their sides (m, 3), and its drift (1, 4) in a substep. The push leaves no velocity along the normal but the body's own; between two
    skins the vertex goes to the middle.
    """
    normal, area, pressure, slow = air
    place, share, goal0, goal1 = held
    near, facing, thick, friction, push, idle, moves = touch
    way, normals, triangles, across, drift = body
    for part in prange(2):
        for i in range(halves[part], halves[part + 1]):
            xi, pi, vi = row(x, i), row(p, i), row(v, i)
            if ends:
                if near[i] >= 0:
                    if idle[i] > 0.0:
                        far = xi - pi - row(drift, 0)
                        idle[i] -= moves[i] + np.sqrt(dot(far, far))
                    if idle[i] <= 0.0:
                        xi, pi = _contact(i, xi, pi, near, facing, thick, friction, push, idle, 0.0, way, t, step, normals, triangles,
                                          across, True)
                        put(x, i, xi)
                vi = (xi - pi) * (1.0 / dt)
                if not begins:
                    put(p, i, pi)
            if begins:
                pi = xi
                if w[i] != 0.0:
                    out = row(normal, i)
                    along = dot(row(wind, 0) - vi, out)
                    pull = drag * area[i] * abs(along) * w[i] * dt
                    pull = pull / (1.0 + pull) * along + pressure[i] * area[i] * w[i] * dt
                    vi = (vi + out * pull + row(fall, 0)) * slow[i]
                    xi = xi + vi * dt
                if place[i] >= 0:
                    h, by = place[i], t + step
                    for a in range(3):
                        x[i, a] = goal0[h, a] + by * (goal1[h, a] - goal0[h, a])
                    xi = xi + (row(x, i) - xi) * share[h]
                push[i] = 0.0
                if near[i] >= 0:
                    far = xi - pi - row(drift, 0)
                    slack = np.sqrt(dot(far, far))
                    if idle[i] <= moves[i] + slack:
                        xi, pi = _contact(i, xi, pi, near, facing, thick, friction, push, idle, slack - moves[i], way, t + step, step,
                                          normals, triangles, across, False)
                put(x, i, xi)
                put(p, i, pi)
            put(v, i, vi)
