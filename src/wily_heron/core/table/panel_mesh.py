"""Panels as flat meshes: borders of even steps that meet at the seams, edges along the inner lines, near-equilateral triangles."""

import itertools
from dataclasses import dataclass

import numpy as np
import shapely
from scipy.spatial import Delaunay, KDTree

from ..errors import InputError
from .layout import Layout, Panel, Seam, Side
from .marks_on import inner_lines
from .outline import edge_length, edge_points, whole_outline

_CLEAR = 0.62
"""Points keep so many steps off the border's points and the middles between them: then each of its edges is a triangle's."""


@dataclass(frozen=True)
class Flat:
    """All panels as they are cut: `points` (n, 2) in each panel's own place, `triangles` (m, 3) counter-clockwise, which cut panel each
    vertex is `of` (n,), by index into `cut`: (panel, whether it is the mirrored one of a pair). `pairs` (s, 2) are sewn vertices, `fast`
    (f,) those of edges that stay. `sides` are the vertices along each edge, from its start."""

    points: np.ndarray
    triangles: np.ndarray
    of: np.ndarray
    cut: tuple[tuple[Panel, bool], ...]
    pairs: np.ndarray
    fast: np.ndarray
    sides: dict[tuple[str, int, bool], np.ndarray]


def flat_panels(layout: Layout, size: float) -> Flat:
    """Return the panels of a layout as meshes with edges of about `size` metres, sewn edges with as many steps as each other.

    Raises `InputError` for a layout without panels and an outline that crosses itself, naming the panel.

    Args:
        layout: Panels and seams, in metres.
        size: How long edges are, metres.
    """
    if not layout.panels:
        raise InputError(what="there is no panel", where="the cutting table", todo="Begin with a block, or draw a panel.")
    for panel in layout.panels:
        check_outline(panel)
    counts = _counts(layout, size)
    points, triangles, of, cut, sides = [], [], [], [], {}
    start = 0
    for panel in layout.panels:
        for mirrored in (False, True) if panel.half == "pair" else (False,):
            border, rows = _border(panel, counts, mirrored)
            inner = [line * [-1.0, 1.0] if mirrored else line for line in inner_lines(panel)]
            at, faces = _filled(border, _on_lines(inner, border, size), size, panel.name)
            sides |= {(panel.name, edge, other): where + start for (edge, other), where in rows.items()}
            points.append(at)
            triangles.append(faces + start)
            of.append(np.full(len(at), len(cut)))
            cut.append((panel, mirrored))
            start += len(at)
    pairs = [np.stack(ends, axis=1) for seam in layout.seams for ends in _sewn(layout, seam, sides)]
    fast = [sides[s.panel, s.edge, other] for s in layout.fast for other in ((False, True) if _has_other(layout, s) else (False,))]
    return Flat(
        np.concatenate(points),
        np.concatenate(triangles).astype(np.int32),
        np.concatenate(of),
        tuple(cut),
        np.concatenate(pairs) if pairs else np.zeros((0, 2), np.int64),
        np.unique(np.concatenate(fast)) if fast else np.zeros(0, np.int64),
        sides,
    )


def check_outline(panel: Panel) -> None:
    """Raise `InputError` where the outline of a panel crosses itself or is thinner than a thread."""
    shape = shapely.Polygon(whole_outline(panel))
    if not shape.is_valid:
        where = shapely.is_valid_reason(shape).split("[")[-1].rstrip("]").split()
        spot = f" near {100 * float(where[0]):.0f}, {100 * float(where[1]):.0f} cm" if len(where) == 2 else ""
        raise InputError(what=f"the outline of '{panel.name}' crosses itself{spot}", where="the cutting table",
                         todo="Move its corners apart there, or undo.")
    if shape.area < 1e-4:
        raise InputError(what=f"'{panel.name}' has next to no cloth", where="the cutting table", todo="Draw it larger, in centimetres.")


def mirrored_ends(layout: Layout, seam: Seam) -> Seam | None:
    """Return the seam on the other half, None where there is none or it is the same one."""
    if not (_has_other(layout, seam.one) and _has_other(layout, seam.two)):
        return None
    flip = lambda s: s.model_copy(update={"other": not s.other})  # noqa: E731
    twin = seam.model_copy(update={"one": flip(seam.one), "two": flip(seam.two)})
    return None if (twin.one, twin.two) in ((seam.one, seam.two), (seam.two, seam.one)) else twin


def _has_other(layout: Layout, side: Side) -> bool:
    return layout.panel(side.panel).half != "single"


def _sewn(layout: Layout, seam: Seam, sides: dict) -> list[tuple[np.ndarray, np.ndarray]]:
    out = []
    for each in (seam, mirrored_ends(layout, seam)):
        if each is not None:
            one, two = (sides[s.panel, s.edge, s.other] for s in (each.one, each.two))
            out.append((one, two[::-1] if each.turned else two))
    return out


def _counts(layout: Layout, size: float) -> dict[tuple[str, int], int]:
    """Return the steps of each edge: those sewn to each other have as many as the longest of them needs."""
    edges = [(p.name, e) for p in layout.panels for e in range(len(p.outline))]
    group = {edge: k for k, edge in enumerate(edges)}
    for seam in layout.seams:
        a, b = group[seam.one.panel, seam.one.edge], group[seam.two.panel, seam.two.edge]
        group = {edge: a if k == b else k for edge, k in group.items()}
    longest: dict[int, float] = {}
    for name, edge in edges:
        k = group[name, edge]
        longest[k] = max(longest.get(k, 0.0), edge_length(layout.panel(name), edge))
    return {edge: max(1, round(longest[k] / size)) for edge, k in group.items()}


def _border(panel: Panel, counts: dict, mirrored: bool) -> tuple[np.ndarray, dict[tuple[int, bool], np.ndarray]]:
    """Return the border (k, 2) of a cut panel, counter-clockwise or not as it is drawn, and the vertices along each edge."""
    edges = len(panel.outline)
    folds = [e for e in range(edges) if panel.on_fold(e)]
    if panel.half != "fold" or not folds:
        line, rows, start = [], {}, 0
        for e in range(edges):
            count = counts[panel.name, e]
            line.append(edge_points(panel, e, count)[:-1])
            rows[e, mirrored] = np.arange(start, start + count + 1)
            start += count
        border = np.concatenate(line)
        rows[edges - 1, mirrored][-1] = 0
        return (border * [-1.0, 1.0] if mirrored else border), rows
    drawn = [(folds[0] + 1 + k) % edges for k in range(edges - 1)]  # from the end of the fold line round to its start
    line, rows, start = [], {}, 0
    for e in drawn:
        count = counts[panel.name, e]
        line.append(edge_points(panel, e, count)[:-1])
        rows[e, False] = np.arange(start, start + count + 1)
        start += count
    half = np.concatenate([*line, edge_points(panel, drawn[-1], counts[panel.name, drawn[-1]])[-1:]])
    last = len(half) - 1
    back = np.concatenate([np.arange(1), np.arange(2 * last - 1, last, -1), [last]]) if last > 1 else np.arange(last + 1)
    for e in drawn:
        rows[e, True] = back[rows[e, False]]
    return np.concatenate([half, (half * [-1.0, 1.0])[1:-1][::-1]]), rows


def _on_lines(lines: list[np.ndarray], border: np.ndarray, size: float) -> np.ndarray:
    """Return points (k, 2) along inner lines at steps of about `size`, none so near the border that its edges would not stand, or to
    another than 0.4 of that."""
    kept = np.zeros((0, 2))
    room, rim = shapely.Polygon(border), KDTree(_with_middles(border))
    for line in lines:
        for a, b in itertools.pairwise(line):
            count = max(1, round(float(np.linalg.norm(b - a)) / size))
            for spot in a + np.linspace(0.0, 1.0, count + 1)[:, None] * (b - a):
                clear = rim.query(spot)[0] > _CLEAR * size and np.linalg.norm(kept - spot, axis=1).min(initial=np.inf) > 0.4 * size
                if clear and shapely.contains_xy(room, *spot):
                    kept = np.vstack([kept, spot])
    return kept


def _with_middles(border: np.ndarray) -> np.ndarray:
    return np.concatenate([border, 0.5 * (border + np.roll(border, -1, axis=0))])


def _filled(border: np.ndarray, inner: np.ndarray, size: float, name: str) -> tuple[np.ndarray, np.ndarray]:
    """Return the border's points, those on `inner` lines and others inside (n, 2), and the triangles between, counter-clockwise."""
    shape = shapely.Polygon(border)
    low, high = border.min(axis=0), border.max(axis=0)
    rows = np.arange(low[1], high[1], size * np.sqrt(0.75))
    columns = np.arange(low[0] - size, high[0] + size, size)
    x, y = np.meshgrid(columns, rows)
    x = x + np.where(np.arange(len(rows)) % 2 == 1, 0.5 * size, 0.0)[:, None]
    middle = 0.5 * (low[0] + high[0])
    grid = np.stack([(x - columns.mean() + middle).ravel(), y.ravel()], axis=1)
    grid = grid[shapely.contains_xy(shape, grid)] if len(grid) else grid
    ring = np.concatenate([_with_middles(border), inner, 0.5 * (inner[1:] + inner[:-1])])
    if len(grid):
        grid = grid[KDTree(ring).query(grid)[0] > _CLEAR * size]
    points = np.concatenate([border, inner, grid])
    edges = {tuple(sorted((k, (k + 1) % len(border)))) for k in range(len(border))}
    faces = Delaunay(points).simplices
    centre = points[faces].mean(axis=1)
    faces = faces[shapely.contains_xy(shape, centre)]
    a, b, c = points[faces].transpose(1, 0, 2)
    area = 0.5 * ((b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0]))
    faces[area < 0] = faces[area < 0][:, ::-1]
    faces = faces[np.abs(area) > 1e-4 * size**2]
    sides, count = np.unique(np.sort(faces[:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2), axis=1), axis=0, return_counts=True)
    if {tuple(s) for s in sides[count == 1].tolist()} != edges:
        raise InputError(what=f"'{name}' is too narrow somewhere for faces of {1000 * size:.0f} mm", where="the cutting table",
                         todo="Ask for smaller faces, or move its corners apart.")
    return _evened(points, faces, len(border) + len(inner)), faces


def _evened(points: np.ndarray, faces: np.ndarray, fixed: int) -> np.ndarray:
    """Return the points with those inside moved to the mean of their neighbours, a little."""
    for _ in range(3):
        total, count = np.zeros_like(points), np.zeros(len(points))
        for k in range(3):
            np.add.at(total, faces[:, k], points[faces[:, (k + 1) % 3]] + points[faces[:, (k + 2) % 3]])
            np.add.at(count, faces[:, k], 2.0)
        mean = total / np.maximum(count, 1.0)[:, None]
        points = np.concatenate([points[:fixed], 0.5 * points[fixed:] + 0.5 * mean[fixed:]])
    return points
