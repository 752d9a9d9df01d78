"""Rods that swing about their tops. Loops over plain arrays; quaternions are x, y, z, w."""

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def _times(p: np.ndarray, q: np.ndarray, out: np.ndarray) -> None:
    x, y, z, w = p[0], p[1], p[2], p[3]
    a, b, c, d = q[0], q[1], q[2], q[3]
    out[0] = w * a + x * d + y * c - z * b
    out[1] = w * b - x * c + y * d + z * a
    out[2] = w * c + x * b - y * a + z * d
    out[3] = w * d - x * a - y * b - z * c


@njit(cache=True, nogil=True)
def _away(q: np.ndarray, rest: np.ndarray, mid: np.ndarray, out: np.ndarray) -> None:
    """Fill `out` (3,) with the rotation vector from `rest` to `q`."""
    back = np.array([-rest[0], -rest[1], -rest[2], rest[3]])
    _times(q, back, mid)
    s = -1.0 if mid[3] < 0 else 1.0
    size = np.sqrt(mid[0] ** 2 + mid[1] ** 2 + mid[2] ** 2)
    f = 2.0 * np.arctan2(size, s * mid[3]) * s / max(size, 1e-12)
    for a in range(3):
        out[a] = f * mid[a]


@njit(cache=True, nogil=True)
def _turned(q: np.ndarray, v: np.ndarray, out: np.ndarray) -> None:
    x, y, z, w = q[0], q[1], q[2], q[3]
    cx, cy, cz = y * v[2] - z * v[1], z * v[0] - x * v[2], x * v[1] - y * v[0]
    out[0] = v[0] + 2 * (w * cx + y * cz - z * cy)
    out[1] = v[1] + 2 * (w * cy + z * cx - x * cz)
    out[2] = v[2] + 2 * (w * cz + x * cy - y * cx)


@njit(cache=True, nogil=True)
def _turn_by(q: np.ndarray, v: np.ndarray, mid: np.ndarray, out: np.ndarray) -> None:
    """Fill `out` with `q` turned on by the rotation vector `v`."""
    angle = np.sqrt(v[0] ** 2 + v[1] ** 2 + v[2] ** 2)
    f = np.sin(angle / 2) / angle if angle > 1e-12 else 0.5
    mid[0], mid[1], mid[2], mid[3] = f * v[0], f * v[1], f * v[2], np.cos(angle / 2)
    _times(mid, q, out)
    n = np.sqrt(out[0] ** 2 + out[1] ** 2 + out[2] ** 2 + out[3] ** 2)
    for a in range(4):
        out[a] /= n


@njit(cache=True, nogil=True)
def swing(turns: np.ndarray, speed: np.ndarray, top: np.ndarray, top_speed: np.ndarray, goal: np.ndarray, base: np.ndarray,
          places: np.ndarray, ends: np.ndarray, above: np.ndarray, stiffness: float, damping: float, gravity: float, limit: float,
          steps: int, dt: float) -> None:
    """Move rods on by `steps` of `dt`, in place: `turns` (r, 4), `speed` (r, 3), `top` (r, 3), `top_speed` (r, 3); those that hang from
    none are led to `goal` (r, 3) and pulled towards `base` (r, 4)."""
    begin = top.copy()
    mid, new = np.empty(4), np.empty(4)
    away, rod, arm, pull, here = np.empty(3), np.empty(3), np.empty(3), np.empty(3), np.empty(3)
    for step in range(1, steps + 1):
        for i in range(len(places)):
            up = above[i]
            if up >= 0:
                for a in range(3):
                    arm[a] = places[i, a] - places[up, a]
                _turned(turns[up], arm, here)
                for a in range(3):
                    here[a] += top[up, a]
                rest = turns[up].copy()
            else:
                for a in range(3):
                    here[a] = begin[i, a] + (goal[i, a] - begin[i, a]) * step / steps
                rest = base[i].copy()
            for a in range(3):
                rate = (here[a] - top[i, a]) / dt
                pull[a] = -min(max((rate - top_speed[i, a]) / dt, -60.0), 60.0)
                top[i, a], top_speed[i, a] = here[a], rate
                arm[a] = ends[i, a] - places[i, a]
            pull[1] -= gravity
            _away(turns[i], rest, mid, away)
            _turned(turns[i], arm, rod)
            square = max(rod[0] ** 2 + rod[1] ** 2 + rod[2] ** 2, 1e-4)
            torque0 = rod[1] * pull[2] - rod[2] * pull[1]
            torque1 = rod[2] * pull[0] - rod[0] * pull[2]
            torque2 = rod[0] * pull[1] - rod[1] * pull[0]
            f = 1.5 / square
            speed[i, 0] += dt * (f * torque0 - stiffness * away[0] - damping * speed[i, 0])
            speed[i, 1] += dt * (f * torque1 - stiffness * away[1] - damping * speed[i, 1])
            speed[i, 2] += dt * (f * torque2 - stiffness * away[2] - damping * speed[i, 2])
            for a in range(3):
                arm[a] = dt * speed[i, a]
            _turn_by(turns[i], arm, mid, new)
            for a in range(4):
                turns[i, a] = new[a]
            _away(turns[i], rest, mid, away)
            size = np.sqrt(away[0] ** 2 + away[1] ** 2 + away[2] ** 2)
            if size > limit:
                out = 0.0
                for a in range(3):
                    arm[a] = away[a] * limit / size
                    out += speed[i, a] * away[a] / size
                _turn_by(rest, arm, mid, new)
                for a in range(4):
                    turns[i, a] = new[a]
                if out > 0:
                    for a in range(3):
                        speed[i, a] -= out * away[a] / size
