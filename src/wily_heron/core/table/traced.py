"""Outlines traced from lines of many points: corners where they turn, curves between."""

import numpy as np

from .layout import Corner

_TURN = np.cos(np.radians(25.0))
_OFF = 0.0008
"""A traced curve may lie so far (metres) from the points it stands for."""


def traced(line: np.ndarray, corners: np.ndarray | None = None) -> tuple[Corner, ...]:
    """Return the corners of a closed line (k, 2) in metres, its last point not repeated.

    A corner is where it turns by more than 25 degrees, or one of the given `corners` (c, 2). What lies between is a straight edge, or as
    many cubic curves as come within 0.8 mm of it. Follows: Schneider, An algorithm for automatically fitting digitized curves, 1990.

    >>> t = np.linspace(0.0, 1.0, 20, endpoint=False)[:, None]
    >>> places = np.array([[0.0, 0.0], [0.2, 0.0], [0.2, 0.3], [0.0, 0.3]])
    >>> square = np.concatenate([a + t * (b - a) for a, b in zip(places, np.roll(places, -1, axis=0), strict=True)])
    >>> len(traced(square))
    4
    """
    line = line[np.linalg.norm(line - np.roll(line, 1, axis=0), axis=1) > 1e-6]
    before, after = _unit(line - np.roll(line, 1, axis=0)), _unit(np.roll(line, -1, axis=0) - line)
    turns = np.sum(before * after, axis=1) < _TURN
    if corners is not None and len(corners):
        gap = np.linalg.norm(line[:, None] - corners[None], axis=2)
        turns = gap.min(axis=1) < 2e-4
    at = np.flatnonzero(turns)
    if len(at) < 2:
        at = np.linspace(0, len(line), 4, endpoint=False).astype(int)
    out: list[Corner] = []
    for start, stop in zip(at, np.append(at[1:], at[0] + len(line)), strict=True):
        out += _edges(line[np.arange(start, stop + 1) % len(line)])
    return tuple(out)


def _edges(line: np.ndarray) -> list[Corner]:
    """Return the corners that begin each straight edge or curve along an open line (k, 2)."""
    chord = line[-1] - line[0]
    length = np.linalg.norm(chord)
    aside = np.abs((line[:, 0] - line[0, 0]) * chord[1] - (line[:, 1] - line[0, 1]) * chord[0]) / max(length, 1e-12)
    if aside.max() < 1e-5 and length > 0:
        return [Corner(at=_spot(line[0]))]
    bend, off = _cubic_through(line)
    if off < _OFF or len(line) < 6:
        return [Corner(at=_spot(line[0]), bend=(_spot(bend[0]), _spot(bend[1])))]
    half = len(line) // 2
    return _edges(line[: half + 1]) + _edges(line[half:])


def _cubic_through(line: np.ndarray) -> tuple[np.ndarray, float]:
    """Return the middle points (2, 2) of the cubic nearest to an open line with its ends, and how far it is off at most."""
    gone = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
    t, bend, off = gone / gone[-1], line[[0, -1]], np.zeros_like(line)
    for _ in range(8):
        s = 1 - t
        inner = np.stack([3 * s**2 * t, 3 * s * t**2], axis=1)
        rest = line - np.outer(s**3, line[0]) - np.outer(t**3, line[-1])
        bend = np.linalg.lstsq(inner, rest, rcond=None)[0]
        p = np.array([line[0], *bend, line[-1]])
        on = np.stack([s**3, 3 * s**2 * t, 3 * s * t**2, t**3], axis=1) @ p
        way = 3 * (np.outer(s**2, p[1] - p[0]) + np.outer(2 * s * t, p[2] - p[1]) + np.outer(t**2, p[3] - p[2]))
        off = line - on
        step = np.sum(off * way, axis=1) / np.maximum(np.sum(way * way, axis=1), 1e-12)
        t = np.clip(t + step, 0.0, 1.0)
        t[0], t[-1] = 0.0, 1.0
    return bend, float(np.linalg.norm(off, axis=1).max())


def _spot(p: np.ndarray) -> tuple[float, float]:
    return round(float(p[0]), 5), round(float(p[1]), 5)


def _unit(v: np.ndarray) -> np.ndarray:
    return v / np.maximum(np.linalg.norm(v, axis=-1, keepdims=True), 1e-12)
