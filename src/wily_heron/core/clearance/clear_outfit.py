"""Clearing a whole outfit in one cell: each piece from the skin out, the outer ones making room for the inner."""

from collections.abc import Mapping

import numpy as np

from ..figure.body import Body, shaped
from ..figure.pose import Pose
from ..piece.pose_fix import clear_poses
from ..piece.state import Piece
from .cell import Dressed
from .clear import CAP
from .layers import Layers


def clear_outfit(pieces: Mapping[str, Piece], body: Body, shape: np.ndarray, pose: Pose, ease: float) -> tuple[dict[str, Piece], list[str]]:
    """Return the outfit (from the skin out, by name) eased out in one cell, as correctives for its pose, and the names of what moved.

    First no piece may spoil what lies over it; where that leaves something, each piece may, and those over it are eased out after it. The
    whole cell must show less and no deeper in any pair that showed, nothing moving farther than one clearing may, or nothing is done.
    """
    worn, moved = _in_turn(pieces, body, shape, pose, ease, yielding=False)
    wearer = shaped(body, shape)
    start = Dressed(wearer, dict(pieces)).measure(pose)
    before, after = start.figures, Dressed(wearer, worn).measure(pose).figures
    if not after["holds"]:
        other, also = _in_turn(worn, body, shape, pose, ease, yielding=True)
        cell = Dressed(wearer, other).measure(pose)
        then = cell.figures
        far = max(float(np.linalg.norm(a.points - b.points, axis=1).max()) for a, b in zip(cell.layers, start.layers, strict=True))
        if then["area_cm2"] < after["area_cm2"] and _deepest(then) >= _deepest(before) - 0.05 and far <= CAP + 1e-4:
            worn, moved, after = other, [*moved, *(n for n in also if n not in moved)], then
    return (worn, moved) if after["area_cm2"] < before["area_cm2"] else (dict(pieces), [])


def _in_turn(pieces: Mapping[str, Piece], body: Body, shape: np.ndarray, pose: Pose, ease: float,
             yielding: bool) -> tuple[dict[str, Piece], list[str]]:
    worn, names, moved = dict(pieces), list(pieces), []
    for i, name in enumerate(names):
        if worn[name].skin is None:
            continue
        over = () if yielding else tuple(worn[n] for n in names[i + 1 :])
        eased, (report,) = clear_poses(worn[name], body, [(shape, pose)], ease, Layers(tuple(worn[n] for n in names[:i]), over))
        if report["moved"]:
            worn[name] = eased
            moved.append(name)
    return worn, moved


def _deepest(figures: dict) -> float:
    return min(0.0, *(p["clearance_mm"] for p in figures["pairs"]))
