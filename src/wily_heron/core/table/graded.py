"""Grading: a layout made for one wearer is made anew for another's measures."""

import numpy as np

from ..errors import InputError
from ..figure.base.body import Wearer
from .blocks import block_layout
from .layout import Corner, Layout, Panel, Spot

_BLEND_REACH = 0.02
"""Metres: within about this, a point goes as the block's point beside it does."""


def graded(layout: Layout, made_for: Wearer, to: Wearer) -> Layout:
    """Return a layout that was made for one wearer with its panels graded to another.

    The block it was begun from is drafted for both; each of its points gives the grade there, and what was drawn since goes as the
    points about it do, the nearest most. Panels that are not the block's stay as they are. Raises `InputError` for a layout begun
    from no block.

    Args:
        layout: Panels and seams, in metres.
        made_for: The wearer it was made for.
        to: The wearer it is graded to.
    """
    if not layout.block:
        raise InputError(what="these panels were begun from no block", where="grading",
                         todo="Begin with a block, or move the corners by hand.")
    before = {p.name: p for p in block_layout(layout.block, made_for, layout.made).panels}
    after = {p.name: p for p in block_layout(layout.block, to, layout.made).panels}
    panels = tuple(_graded(p, before[p.name], after[p.name]) if p.name in before else p for p in layout.panels)
    return layout.model_copy(update={"panels": panels})


def _graded(panel: Panel, before: Panel, after: Panel) -> Panel:
    at, to = _points(before), _points(after)

    def moved(p: Spot) -> Spot:
        weight = 1.0 / (np.sum((at - p) ** 2, axis=1) + (1e-3 * _BLEND_REACH) ** 2) ** 2
        x, y = np.array(p) + weight @ (to - at) / weight.sum()
        return (0.0 if panel.half == "fold" and abs(p[0]) < 1e-9 else round(float(x), 5)), round(float(y), 5)

    outline = tuple(Corner(at=moved(c.at), bend=c.bend and (moved(c.bend[0]), moved(c.bend[1]))) for c in panel.outline)
    lines = tuple(tuple(moved(p) for p in line) for line in panel.lines)
    return panel.model_copy(update={"outline": outline, "lines": lines})


def _points(panel: Panel) -> np.ndarray:
    return np.array([p for c in panel.outline for p in (c.at, *(c.bend or ()))])
