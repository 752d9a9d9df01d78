"""What is marked on a panel for its maker: notches, inner lines and the grain."""

from collections.abc import Iterable

import numpy as np
import shapely

from .layout import Panel
from .outline import edge_points, whole_outline

_DEEP = 0.008
_STEPS = 200
_FLAT, _MOST = 0.0005, 200
"""A line that is read keeps so near (metres) to what was drawn, and has at most so many points."""


def notch_marks(panel: Panel) -> list[np.ndarray]:
    """Return each notch as a short line (2, 2) from its edge inwards, mirrored ones of a fold among them.

    >>> corners = tuple({"at": at} for at in ((0, 0), (0.2, 0), (0.2, 0.3), (0, 0.3)))
    >>> (mark,) = notch_marks(Panel(name="bag", outline=corners, notches=((0, 0.5),)))
    >>> mark.round(4).tolist()
    [[0.1, 0.0], [0.1, 0.008]]
    """
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


def inner_lines(panel: Panel) -> list[np.ndarray]:
    """Return each line drawn inside (k, 2), mirrored ones of a fold among them but for those that run along it.

    >>> corners = tuple({"at": at} for at in ((0, 0), (0.2, 0), (0.2, 0.4), (0, 0.4)))
    >>> half = Panel(name="back", half="fold", outline=corners, lines=(((0.05, 0.1), (0.15, 0.1)),))
    >>> [line.tolist() for line in inner_lines(half)]
    [[[0.05, 0.1], [0.15, 0.1]], [[-0.05, 0.1], [-0.15, 0.1]]]
    """
    lines = [np.array(line) for line in panel.lines]
    if panel.half != "fold":
        return lines
    return [each for line in lines for each in ([line] if np.abs(line[:, 0]).max() < 1e-6 else [line, line * [-1.0, 1.0]])]


def grain_line(panel: Panel) -> np.ndarray:
    """Return a line (2, 2) along the warp through the middle of a panel, half as long as the panel.

    >>> corners = tuple({"at": at} for at in ((0, 0), (0.2, 0), (0.2, 0.4), (0, 0.4)))
    >>> grain_line(Panel(name="bag", outline=corners)).round(4).tolist()
    [[0.1, 0.1], [0.1, 0.3]]
    """
    outline = whole_outline(panel)
    middle, turn = 0.5 * (outline.min(axis=0) + outline.max(axis=0)), np.radians(panel.grain)
    half = 0.25 * np.ptp(outline, axis=0)[1] * np.array([np.sin(turn), np.cos(turn)])
    return np.array([middle - half, middle + half])


def with_lines(panels: Iterable[Panel], lines: Iterable[np.ndarray]) -> list[Panel]:
    """Return the panels with the open lines (k, 2), in metres, that were drawn inside each of them; a line in none is left out."""
    drawn = [shapely.LineString(line).simplify(_FLAT) for line in lines if len(line) > 1 and np.ptp(line, axis=0).max() > 0.002]
    out = []
    for panel in panels:
        room = shapely.Polygon(whole_outline(panel)).buffer(0.001)
        mine = [line for line in drawn if room.covers(line) and len(line.coords) <= _MOST]
        spots = tuple(tuple((round(float(x), 5), round(float(y), 5)) for x, y in line.coords) for line in mine)
        out.append(panel.model_copy(update={"lines": (*panel.lines, *spots)}))
    return out
