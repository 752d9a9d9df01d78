"""What is marked on a panel for its maker: notches and the grain."""

import numpy as np

from .layout import Panel
from .outline import edge_points, whole_outline

_DEEP = 0.008
_STEPS = 200


def notch_marks(panel: Panel) -> list[np.ndarray]:
    """Return each notch as a short line (2, 2) from its edge inwards, mirrored ones of a fold among them."""
    inside = whole_outline(panel).mean(axis=0)
    out = []
    for edge, share in panel.notches:
        line = edge_points(panel, edge, _STEPS)
        k = round(share * _STEPS)
        way = line[min(k + 1, _STEPS)] - line[max(k - 1, 0)]
        across = np.array([-way[1], way[0]]) / max(float(np.linalg.norm(way)), 1e-12)
        across = across if np.dot(inside - line[k], across) > 0 else -across
        mark = np.array([line[k], line[k] + _DEEP * across])
        out += [mark, mark * [-1.0, 1.0]] if panel.half == "fold" else [mark]
    return out


def grain_line(panel: Panel) -> np.ndarray:
    """Return a line (2, 2) along the warp through the middle of a panel, half as long as the panel."""
    outline = whole_outline(panel)
    middle, turn = 0.5 * (outline.min(axis=0) + outline.max(axis=0)), np.radians(panel.grain)
    half = 0.25 * np.ptp(outline, axis=0)[1] * np.array([np.sin(turn), np.cos(turn)])
    return np.array([middle - half, middle + half])
