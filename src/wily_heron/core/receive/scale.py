"""In which unit and with which axis up a piece came: held against a body in each, and by its size where it does not hang on one."""

from dataclasses import dataclass

import numpy as np

from ..figure.figure import figure
from ..figure.on_figure import figure_tree
from ..mesh.normals import vertex_normals
from ..model.model import LYING
from ..space.tree import TriangleTree

METRES = {"m": 1.0, "cm": 0.01, "mm": 0.001, "in": 0.0254, "ft": 0.3048, "dm": 0.1}
"""The metres of each unit, the usual ones first."""
UNIT_WORDS = {"m": "metres", "cm": "centimetres", "mm": "millimetres", "in": "inches", "ft": "feet", "dm": "decimetres"}
_BY_SIZE = ("m", "cm", "mm")
"""Units that a piece's size alone can tell apart: the others are too near to one of these."""
_ASKED = 1200
"""So many points of a piece are held against the body: a share of them is then known to 3 %."""
_SUNK, _NEAR, _FAR = 0.012, 0.08, 0.30
"""A worn point lies at most so deep in the skin, and so far over it (metres): 8 cm for cloth that rests, to 30 cm for a hem."""
_SMALLEST, _ALIKE = 0.06, 0.3
"""Nothing worn is shorter than this (metres); cloth faces as the skin under it does within 72 degrees (as a cosine)."""
_STATURES = (0.92, 1.0, 1.08)
"""It may have been made on a body of the wearer's stature, or of one of these shares of the figure's: 1.55, 1.68, 1.81 m."""
_WORN, _APART = 0.62, 0.12
"""A piece hangs on the body if so large a share of it is worn, and so much more than in any other unit. Of the demo's garments in their
own unit the least is 0.68; in a wrong one the most is 0.60, of an apron in feet."""
_USUAL, _ALOFT, _MORE = ("m", "cm", "mm", "in"), 0.15, 1.25
"""What hangs off the floor by so large a share of the stature was built on a body: of the usual units it is then the one in which so many
times as much of it is worn as in any other, however little that is of a belt or a satchel."""


@dataclass(frozen=True)
class Scale:
    """A unit and an up axis, and why each."""

    unit: str
    unit_why: str
    up: str
    up_why: str


def guess_scale(points: np.ndarray, triangles: np.ndarray, stature: float, unit: str = "auto", up: str = "auto") -> Scale:
    """Return the unit and the up axis of a piece; what is not `auto` stands.

    In every unit and with either axis up the piece is held against a body as it came. If it hangs on it as clothes do in one unit and in
    no other, it is that one; else its longest side tells metres, centimetres and millimetres apart.

    Args:
        points: (n, 3) float, in the file's own unit and axes.
        triangles: (m, 3) int32.
        stature: The wearer's, metres.
        unit: "auto", or what the artist says.
        up: "auto", "y" or "z".
    """
    units = list(METRES) if unit == "auto" else [unit]
    axes = ["y", "z"] if up == "auto" else [up]
    worn = _held_against(points, triangles, units, axes, stature)
    best = _best(worn, points, stature)
    size = np.ptp(points.astype(np.float64), axis=0)
    if unit != "auto":
        taken, unit_why = unit, "as you set it"
    elif best is not None:
        taken, unit_why = best[0], f"in {UNIT_WORDS[best[0]]} {100 * worn[best]:.0f} % of it lies on a body as worn clothes do"
    else:
        taken, unit_why = _by_size(size, stature)
    if up != "auto":
        return Scale(taken, unit_why, up, "as you set it")
    if best is not None:
        share = 100 * worn[best]
        return Scale(taken, unit_why, best[1], f"with {best[1].upper()} up {share:.0f} % of it lies on a body as worn clothes do")
    return Scale(taken, unit_why, *_up_by_lie(points.astype(np.float64) * METRES[taken]))


def _held_against(points: np.ndarray, triangles: np.ndarray, units: list[str], axes: list[str],
                  stature: float) -> dict[tuple[str, str], float]:
    """Return how much of the piece is worn in each unit and with each axis up, on the body that it suits best."""
    rows = np.arange(0, len(points), max(1, len(points) // _ASKED))
    normals = vertex_normals(points.astype(np.float64), triangles)[rows]
    own = float(figure(1).base[:, 1].max())
    tall = {round(high, 2) for high in (stature, *(share * own for share in _STATURES))}
    bodies = {high: figure_tree(figure(1).base * np.float32(high / own)) for high in sorted(tall)}
    worn = {}
    for axis in axes:
        turn = LYING if axis == "z" else np.eye(3)
        asked, facing = points[rows].astype(np.float64) @ turn.T, normals @ turn.T
        for unit in units:
            worn[unit, axis] = max(_worn(METRES[unit] * asked, facing, high, body) for high, body in bodies.items())
    return worn


def _best(worn: dict[tuple[str, str], float], points: np.ndarray, stature: float) -> tuple[str, str] | None:
    """Return the unit and the axis in which the piece hangs on a body, if there is one and no other."""
    best = max(worn, key=lambda held: worn[held])
    if worn[best] >= _WORN and worn[best] - max((s for held, s in worn.items() if held != best), default=0.0) >= _APART:
        return best
    usual = {held: share for held, share in worn.items() if held[0] in _USUAL}
    if not usual:
        return None
    best = max(usual, key=lambda held: usual[held])
    least = float(points[:, 1 if best[1] == "y" else 2].min()) * METRES[best[0]]
    rival = max((share for held, share in usual.items() if held != best), default=0.0)
    return best if least >= _ALOFT * stature and usual[best] > _MORE * rival else None


def _worn(points: np.ndarray, normals: np.ndarray, high: float, body: TriangleTree) -> float:
    """Return the share (0..1) of points (n, 3) that lie on a body `high` metres tall as worn cloth does: not in the skin, near it, and
    facing as it does, or all inside out."""
    low, top = points.min(axis=0), points.max(axis=0)
    if not _SMALLEST < (top - low).max() < 1.3 * high or top[1] > 1.3 * high or low[1] < -0.2 * high:
        return 0.0
    near = body.nearest(points)
    skin = body.normals[near.triangle]
    signed = np.copysign(near.distance, np.sum((points - near.point) * skin, axis=1))
    lies = np.where(signed < -_SUNK, 0.0, np.clip((_FAR - signed) / (_FAR - _NEAR), 0.0, 1.0))
    agree = np.sum(normals * skin, axis=1)
    return float(lies.mean() * max((agree > _ALIKE).mean(), (agree < -_ALIKE).mean()))


def _by_size(size: np.ndarray, stature: float) -> tuple[str, str]:
    """The unit in which the piece's longest side comes nearest to half a wearer, on a logarithmic scale."""
    longest = float(size.max())
    miss = {unit: abs(np.log(longest * METRES[unit] / (0.55 * stature))) for unit in _BY_SIZE}
    unit = min(miss, key=lambda u: miss[u])
    return unit, (f"its longest side is {longest:.4g} units; in {UNIT_WORDS[unit]} that is {longest * METRES[unit]:.2f} m "
                  f"beside a wearer of {stature:.2f} m")


def _up_by_lie(points: np.ndarray) -> tuple[str, str]:
    """Z is up if the piece, standing as it came, reaches a height and stands off the floor along Z but not along Y.

    Evidence: a costume piece is built at body height, so along its up axis it does not straddle 0 evenly, and left and right
    (X) are alike. The axis whose middle lies farther from 0, against the piece's extent, is up.
    """
    low, high = points.min(axis=0), points.max(axis=0)
    middle, extent = (low + high) / 2, np.maximum(high - low, 1e-9)
    lift_y, lift_z = middle[1] / extent[1], middle[2] / extent[2]
    if lift_z > 0.35 and lift_z > 2.0 * max(lift_y, 0.0):
        return "z", f"along Z it hangs {middle[2]:.2f} m from the origin, along Y {middle[1]:.2f} m: it was built lying down"
    if lift_y > 0.2:
        return "y", f"along Y it hangs {middle[1]:.2f} m above the origin"
    if extent[2] > 1.6 * extent[1]:
        return "z", f"it is {extent[2]:.2f} m long along Z and only {extent[1]:.2f} m along Y"
    return "y", "nothing speaks for another axis"
