"""Clearing several cells without spoiling any of them."""

from collections.abc import Sequence

import numpy as np

from ..clearance.cell import CLEAN_AREA, Dressed
from ..clearance.figures import OwnFigures
from ..figure.base.body import Body, shaped
from ..model.state import Piece
from ..model.steps.clear import CellClearing
from ..motion.pose import Pose
from .clear import Way, clear
from .layers import ALONE, Layers

Cell = tuple[np.ndarray, Pose]
ROUNDS = 2
_SLACK = 0.02
"""A cell may gain this much visible area (cm2) for another's sake, if it holds all the same."""


def clear_cells(piece: Piece, body: Body, cells: Sequence[Cell], ease: float, layers: Layers = ALONE,
                way: Way = "out") -> tuple[Piece, list[CellClearing]]:
    """Return the piece eased out in `cells` (shape values (s,), pose), worst first, and a report per cell.

    A cell's easing is kept only if the visible area over all cells shrinks and no other cell gets worse than it may.

    Args:
        piece: The piece, bound.
        body: The body, in any shape.
        cells: Shape values (s,) and pose of each.
        ease: How far apart layers are brought, metres.
        layers: The pieces under it and over it.
        way: "out" off what lies under it, "in" beneath what lies over it.
    """
    figures = measure_cells(piece, body, cells, layers)
    reports = [CellClearing(kept=f.places == 0, before=f.brief()) for f in figures]
    for _ in range(ROUNDS):
        changed = False
        for i in sorted(range(len(cells)), key=lambda k: -figures[k].area_cm2):
            if figures[i].places == 0:
                continue
            eased, report = clear(piece, body, *cells[i], ease, layers, way)
            if not report.kept:
                continue
            now = measure_cells(eased, body, cells, layers)
            if no_worse(figures, now, i):
                piece, figures, changed = eased, now, True
                reports[i] = reports[i].moved_as(report)
        if not changed:
            break
    return piece, [r.ending(f.brief()) for r, f in zip(reports, figures, strict=True)]


def measure_cells(piece: Piece, body: Body, cells: Sequence[Cell], layers: Layers = ALONE) -> list[OwnFigures]:
    """Return the figures of each cell that the piece has a part in.

    Args:
        piece: The piece, bound.
        body: The body, in any shape.
        cells: Shape values (s,) and pose of each.
        layers: The pieces under it and over it.
    """
    dressed: dict[bytes, Dressed] = {}
    out = []
    for shape, pose in cells:
        key = shape.tobytes()
        if key not in dressed:
            dressed[key] = layers.dress(shaped(body, shape), piece)
        out.append(layers.own(dressed[key].measure(pose, only=layers.pairs, recall=layers.recall), dressed[key]))
    return out


def no_worse(before: Sequence[OwnFigures], after: Sequence[OwnFigures], cleared: int) -> bool:
    """Return whether the visible area over all cells shrinks and no cell but the one `cleared` gains more than it may."""
    if sum(f.area_cm2 for f in after) >= sum(f.area_cm2 for f in before):
        return False
    return spares(before, after, cleared)


def spares(before: Sequence[OwnFigures], after: Sequence[OwnFigures], cleared: int) -> bool:
    """Return whether no cell but the one `cleared` gains more visible area than it may."""
    others = (k for k in range(len(before)) if k != cleared)
    return all(after[k].area_cm2 <= before[k].area_cm2 + (_SLACK if after[k].area_cm2 < 1e4 * CLEAN_AREA else 0.0) for k in others)
