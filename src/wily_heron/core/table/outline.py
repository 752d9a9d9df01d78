"""The line of a panel's edges: points along them, their length, and the outline as a whole."""

import numpy as np

from .layout import Corner, Panel, Side

_FINE = 64


def edge_points(panel: Panel, edge: int, count: int) -> np.ndarray:
    """Return `count` + 1 points (count + 1, 2) that part an edge of the drawn outline into equal lengths, both ends among them.

    >>> square = Panel(name="bag", outline=tuple(Corner(at=at) for at in ((0, 0), (0.2, 0), (0.2, 0.3), (0, 0.3))))
    >>> edge_points(square, 0, 2).round(9).tolist()
    [[0.0, 0.0], [0.1, 0.0], [0.2, 0.0]]
    """
    a, b = panel.outline[edge], panel.outline[(edge + 1) % len(panel.outline)]
    if a.bend is None:
        t = np.linspace(0.0, 1.0, count + 1)[:, None]
        return (1 - t) * np.array(a.at) + t * np.array(b.at)
    line = _cubic(a, b, np.linspace(0.0, 1.0, max(_FINE, 4 * count) + 1))
    gone = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
    at = np.linspace(0.0, gone[-1], count + 1)
    return np.stack([np.interp(at, gone, line[:, k]) for k in (0, 1)], axis=1)


def edge_length(panel: Panel, edge: int) -> float:
    """Return the length of an edge in metres.

    >>> square = Panel(name="bag", outline=tuple(Corner(at=at) for at in ((0, 0), (0.2, 0), (0.2, 0.3), (0, 0.3))))
    >>> round(edge_length(square, 1), 9)
    0.3
    """
    return float(np.linalg.norm(np.diff(edge_points(panel, edge, _FINE), axis=0), axis=1).sum())


def seam_lengths(panel_one: Panel, one: Side, panel_two: Panel, two: Side) -> tuple[float, float]:
    """Return the lengths of two edges that are sewn, in metres.

    >>> square = Panel(name="bag", outline=tuple(Corner(at=at) for at in ((0, 0), (0.2, 0), (0.2, 0.3), (0, 0.3))))
    >>> [round(m, 9) for m in seam_lengths(square, Side(panel="bag", edge=0), square, Side(panel="bag", edge=1))]
    [0.2, 0.3]
    """
    return edge_length(panel_one, one.edge), edge_length(panel_two, two.edge)


def drawn_outline(panel: Panel, step: float = 0.01) -> np.ndarray:
    """Return the drawn outline (k, 2) as a closed line of steps of at most `step` metres on its curves, its last point not repeated.

    >>> square = Panel(name="bag", outline=tuple(Corner(at=at) for at in ((0, 0), (0.2, 0), (0.2, 0.3), (0, 0.3))))
    >>> len(drawn_outline(square))  # straight edges are one step each
    4
    """
    parts = []
    for edge, corner in enumerate(panel.outline):
        count = 1 if corner.bend is None else max(4, int(np.ceil(edge_length(panel, edge) / step)))
        parts.append(edge_points(panel, edge, count)[:-1])
    return np.concatenate(parts)


def whole_outline(panel: Panel, step: float = 0.01) -> np.ndarray:
    """Return the outline as it is cut (k, 2): a fold laid open, any other as drawn.

    >>> half = Panel(name="back", half="fold", outline=tuple(Corner(at=at) for at in ((0, 0), (0.2, 0), (0.2, 0.3), (0, 0.3))))
    >>> np.ptp(whole_outline(half), axis=0).round(9).tolist()
    [0.4, 0.3]
    """
    half = drawn_outline(panel, step)
    if panel.half != "fold":
        return half
    on = np.flatnonzero(np.abs(half[:, 0]) < 1e-6)
    gap = np.flatnonzero([panel.on_fold(e) for e in range(len(panel.outline))])
    if not len(on) or not len(gap):
        return half
    starts = np.cumsum([0] + [1 if c.bend is None else max(4, int(np.ceil(edge_length(panel, e) / step))) for e, c in
                              enumerate(panel.outline)])
    half = np.roll(half, -int(starts[gap[0] + 1] % len(half)), axis=0)  # begins where the fold line ends
    return np.concatenate([half, (half * [-1.0, 1.0])[::-1][1:-1]])


def _cubic(a: Corner, b: Corner, t: np.ndarray) -> np.ndarray:
    assert a.bend is not None
    p = np.array([a.at, *a.bend, b.at])
    s = 1 - t
    return np.stack([s**3, 3 * s**2 * t, 3 * s * t**2, t**3], axis=1) @ p
