"""How each shape that is not drawn moves the finished body, as `shapes.toml` tells it."""

import tomllib
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from .base.shape_moves import Ground, Moves, none, push, scaled, size, spread, stretch, thicken, tip, together
from .base.shapes import LEFT, SHAPES

Mirror = Callable[[Moves], Moves]
_DATA = tomllib.loads(Path(__file__).with_name("shapes.toml").read_text())
_SHAPES, _BESIDES = _DATA["shapes"], _DATA["besides"]
_AXES = dict(zip("xyz", np.eye(3), strict=True))


def shape_moves(ground: Ground, mirror: Mirror) -> dict[str, Moves]:
    """Return the moves of every shape in the table and of the left twins of the sided ones."""
    out: dict[str, Moves] = {}
    for shape in SHAPES:
        if shape.name not in _SHAPES:
            continue
        moves = _sum(ground, _SHAPES[shape.name], mirror)
        if shape.sided:
            out[shape.name + LEFT] = moves
            moves = together(moves, mirror(moves))
        out[shape.name] = _footed(ground, moves)
    return out


def also(ground: Ground, shape: str, mirror: Mirror) -> Moves:
    """Return what a drawn shape moves besides: face, neck, wrists and feet follow the body's weight."""
    return _sum(ground, _BESIDES[shape], mirror) if shape in _BESIDES else none(ground)


def _footed(ground: Ground, moves: Moves) -> Moves:
    """Return the moves with the soles brought back to the height they stood at."""
    sole = ground.points[:, 1] < 0.01
    lift = np.array([0.0, moves[0][sole, 1].mean(), 0.0])
    return moves[0] - lift, moves[1] - lift


def _sum(ground: Ground, acts: list[Any], mirror: Mirror) -> Moves:
    moves = [_sum(ground, act, mirror) if isinstance(act, list) else _moves(ground, mirror, **act) for act in acts]
    return moves[0] if len(moves) == 1 else together(*moves)


def _moves(ground: Ground, mirror: Mirror, act: str, **how: Any) -> Moves:
    if act == "shape":
        return scaled(_sum(ground, _SHAPES[how["of"]], mirror), how["by"])
    if act == "mirror":
        return mirror(_sum(ground, how["of"], mirror))
    return _ACTS[act](ground, **how)


def _stretch(ground: Ground, bone: list[str], by: float, along: list[float] | None = None) -> Moves:
    return stretch(ground, bone[0], bone[1], by, along)


def _thicken(ground: Ground, bone: list[str], by: float, middle: float, reach: float, inner: float = 1.0) -> Moves:
    """Thicken a limb; on its side towards the other one only `inner` times as much."""
    points, joints = thicken(ground, bone[0], bone[1], by, middle, reach)
    return points * np.where(points[:, :1] < 0, [inner, 1.0, 1.0], 1.0), joints


def _size(ground: Ground, joint: str, by: list[float], soft: float = 0.0) -> Moves:
    return size(ground, joint, by, soft=soft)


def _tip(ground: Ground, joint: str, axis: str, degrees: float) -> Moves:
    return tip(ground, joint, _AXES[axis], degrees)


def _push(ground: Ground, at: list[float], reach: list[float], by: list[float], both: bool = True, only: str | None = None) -> Moves:
    return push(ground, at, reach, by, both, only)


def _spread(ground: Ground, at: list[float], reach: list[float], by: list[float], both: bool = True, only: str | None = None) -> Moves:
    return spread(ground, at, reach, by, both, only)


def _band(ground: Ground, height: float, reach: float, by: list[float]) -> Moves:
    """Size a band of the trunk about its middle; arms are left out."""
    p = ground.points
    arm = sum(ground.carried(f"{s}_shoulder") for s in "lr")
    band = np.exp(-0.5 * (np.abs(p[:, 1] - height) / reach) ** 2) * np.clip(1 - arm, 0, 1)
    return band[:, None] * (p - [0, height, -0.005]) * np.array(by), none(ground)[1]


def _broaden(ground: Ground, height: float, reach: float, half: float, by: list[float]) -> Moves:
    """Broaden and deepen the trunk about a height, fading to nothing at `half` (metres) beside the middle."""
    p = ground.points
    near = np.exp(-0.5 * ((p[:, 1] - height) / reach) ** 2) * np.clip(1 - np.abs(p[:, 0]) / half, 0, 1)
    return p * np.array(by) * near[:, None], none(ground)[1]


def _grow(ground: Ground, by: list[float]) -> Moves:
    """Size the whole body from the floor."""
    return ground.points * by, ground.skeleton.positions * by


_ACTS: dict[str, Callable[..., Moves]] = {
    "stretch": _stretch, "thicken": _thicken, "size": _size, "tip": _tip, "push": _push, "spread": _spread, "band": _band,
    "broaden": _broaden, "grow": _grow,
}
