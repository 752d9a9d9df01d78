"""Panels as SVG 1.1 drawings at true size, one unit a millimetre."""

import io
from xml.etree import ElementTree

import numpy as np
from svgelements import SVG, Close, CubicBezier, Move, Path, QuadraticBezier, Shape

from ...core.errors import InputError
from ...core.table.layout import Corner, Layout, Panel, anew
from ...core.table.marks_on import grain_line, inner_lines, notch_marks, with_lines
from ...core.table.outline import whole_outline
from ...core.table.traced import traced

_NS = "http://www.w3.org/2000/svg"
_PX = 0.0254 / 96
"""Metres of a CSS pixel."""


def write_svg(layout: Layout) -> bytes:
    """Return the panels as they are cut, folds laid open, with their notches, grain and inner lines."""
    ElementTree.register_namespace("", _NS)
    every = np.concatenate([whole_outline(p) + p.spot for p in layout.panels]) if layout.panels else np.zeros((1, 2))
    low, high = 1000 * every.min(axis=0) - 20, 1000 * every.max(axis=0) + 20
    wide, tall = high - low
    root = ElementTree.Element(f"{{{_NS}}}svg", {"width": f"{wide:.1f}mm", "height": f"{tall:.1f}mm", "version": "1.1",
                                               "viewBox": f"0 0 {wide:.1f} {tall:.1f}"})
    place = lambda at: np.stack([1000 * at[:, 0] - low[0], high[1] - 1000 * at[:, 1]], axis=1)  # noqa: E731
    for panel in layout.panels:
        group = ElementTree.SubElement(root, f"{{{_NS}}}g", {"id": panel.name.replace(" ", "-"), "fill": "none", "stroke": "#22303A"})
        ElementTree.SubElement(group, f"{{{_NS}}}title").text = panel.name
        _line(group, "cut", _drawn(panel, place), 0.5)
        for marks in notch_marks(panel):
            _line(group, "notch", _polyline(place(marks + panel.spot)), 0.4)
        _line(group, "grain", _polyline(place(grain_line(panel) + panel.spot)), 0.3)
        for line in inner_lines(panel):
            _line(group, "inner", _polyline(place(line + panel.spot)), 0.3)
    return ElementTree.tostring(root, encoding="utf-8", xml_declaration=True)


def read_svg(data: bytes, name: str) -> Layout:
    """Return the closed paths of a drawing as panels, curves kept, and open ones inside them as their inner lines.

    Raises `InputError` for a file that is none or holds no closed path.
    """
    try:
        if b"<!ENTITY" in data:
            raise ValueError("entities can unfold without end")
        panels = _panels(SVG.parse(io.BytesIO(data), reify=True))
    except Exception as error:  # whatever the reader stumbles over
        raise InputError(what="it cannot be read as SVG", where=name,
                         todo="Save the drawing as plain SVG, in true size and no larger than 6 m.") from error
    if not panels:
        raise InputError(what="it holds no closed path", where=name, todo="Close the outline of each panel, and convert texts to paths.")
    return Layout(panels=tuple(panels))


def _panels(drawing: SVG) -> list[Panel]:
    panels: list[Panel] = []
    lines: list[np.ndarray] = []
    for element in drawing.elements():
        values: dict = getattr(element, "values", None) or {}
        if not isinstance(element, Shape) or values.get("class") in ("notch", "grain"):
            continue
        path = Path(element)
        for part in path.as_subpaths():
            corners = None if values.get("class") == "inner" else _corners(Path(part))
            if corners is not None:
                title = values.get("data-name") or values.get("id") or f"panel {len(panels) + 1}"
                panels.append(anew(panels, title, corners))
            else:
                lines.append(_open(Path(part)))
    return with_lines(panels, lines)


def _open(path: Path) -> np.ndarray:
    """Return a path as points (k, 2) in metres with y up."""
    at = []
    for s in path:
        if not isinstance(s, Move) and s.start is not None and s.end is not None:
            at += [s.point(t) for t in np.linspace(0.0, 1.0, 2 if type(s).__name__ == "Line" else 17)]
    return np.array([(p.x * _PX, -p.y * _PX) for p in at]).reshape(-1, 2)


def _corners(path: Path) -> tuple[Corner, ...] | None:
    """Return a closed path's corners in metres with y up, or None for one that is open or has next to no room."""
    parts = [s for s in path if not isinstance(s, Move) and s.start is not None and s.end is not None]
    if not parts or abs(complex(parts[0].start) - complex(parts[-1].end)) > 0.5 or len(parts) < 2:
        return None
    spot = lambda p: (round(float(p.x) * _PX, 5), round(-float(p.y) * _PX, 5))  # noqa: E731
    out: list[Corner] = []
    for s in parts:
        if abs(complex(s.start) - complex(s.end)) < 0.02:
            continue
        if isinstance(s, CubicBezier):
            out.append(Corner(at=spot(s.start), bend=(spot(s.control1), spot(s.control2))))
        elif isinstance(s, QuadraticBezier):
            a, c, b = (np.array(spot(p)) for p in (s.start, s.control, s.end))
            one, two = a + 2 / 3 * (c - a), b + 2 / 3 * (c - b)
            out.append(Corner(at=spot(s.start), bend=((float(one[0]), float(one[1])), (float(two[0]), float(two[1])))))
        elif isinstance(s, Close) or type(s).__name__ == "Line":
            out.append(Corner(at=spot(s.start)))
        else:
            out += [Corner(at=spot(c.start), bend=(spot(c.control1), spot(c.control2))) for c in s.as_cubic_curves()]
    if all(c.bend is None for c in out) and len(out) > 24:
        out = list(traced(np.array([c.at for c in out])))
    return tuple(out) if 3 <= len(out) <= 200 else None


def _drawn(panel: Panel, place) -> str:
    """Return the path of a panel as it is cut; a fold's other half is the mirrored one drawn back."""
    corners = panel.outline
    rows = [e for e in range(len(corners)) if not panel.on_fold(e)]
    fold = next((e for e in range(len(corners)) if panel.on_fold(e)), None)
    if panel.half != "fold" or fold is None:
        ends = [(corners[e], corners[(e + 1) % len(corners)]) for e in rows]
        return _path([(a.at, a.bend, b.at) for a, b in ends], panel, place)
    rows = [(fold + 1 + k) % len(corners) for k in range(len(corners) - 1)]
    half = [(corners[e].at, corners[e].bend, corners[(e + 1) % len(corners)].at) for e in rows]
    flip = lambda p: (-p[0], p[1])  # noqa: E731
    back = [(flip(b), None if bend is None else (flip(bend[1]), flip(bend[0])), flip(a)) for a, bend, b in reversed(half)]
    return _path(half + back, panel, place)


def _path(edges: list, panel: Panel, place) -> str:
    at = lambda *p: " ".join(f"{x:.3f},{y:.3f}" for x, y in place(np.array(p) + panel.spot))  # noqa: E731
    steps = [f"C {at(*bend, b)}" if bend else f"L {at(b)}" for _, bend, b in edges]
    return f"M {at(edges[0][0])} {' '.join(steps)} Z"


def _polyline(at: np.ndarray) -> str:
    return "M " + " L ".join(f"{x:.3f},{y:.3f}" for x, y in at)


def _line(group: ElementTree.Element, kind: str, path: str, width: float) -> None:
    name = group.get("id", "")
    ElementTree.SubElement(group, f"{{{_NS}}}path", {"class": kind, "data-name": name, "d": path, "stroke-width": f"{width}"})
