"""Panels as DXF in millimetres, on the layers of the apparel trade: 1 cut, 2 turn points, 4 notches, 7 grain, 8 inner lines.

Follows: ASTM D6673, Standard practice for sewn products pattern data interchange.
"""

import io

import ezdxf
import numpy as np
from ezdxf.document import Drawing
from ezdxf.entities.insert import Insert

from ...core.errors import InputError
from ...core.table.layout import Layout, Panel, anew
from ...core.table.marks_on import grain_line, inner_lines, notch_marks, with_lines
from ...core.table.outline import whole_outline
from ...core.table.traced import traced

_CUT, _TURNS, _NOTCH, _GRAIN, _INNER = "1", "2", "4", "7", "8"


def write_dxf(layout: Layout) -> bytes:
    """Return the panels as they are cut, each in a block of its name, folds laid open and curves as lines of 3 mm at most."""
    drawing = ezdxf.new("R2010", units=ezdxf.units.MM)  # type: ignore[attr-defined]
    for layer in (_CUT, _TURNS, _NOTCH, _GRAIN, _INNER):
        drawing.layers.add(layer)
    room = drawing.modelspace()
    for panel in layout.panels:
        block = drawing.blocks.new(_plain(panel.name))
        mm = lambda at: [(float(x), float(y)) for x, y in 1000 * np.asarray(at)]  # noqa: E731
        block.add_lwpolyline(mm(whole_outline(panel, 0.003)), close=True, dxfattribs={"layer": _CUT})
        for spot in _corner_spots(panel):
            block.add_point(mm([spot])[0], dxfattribs={"layer": _TURNS})
        for mark in notch_marks(panel):
            block.add_line(*mm(mark), dxfattribs={"layer": _NOTCH})
        block.add_line(*mm(grain_line(panel)), dxfattribs={"layer": _GRAIN})
        for line in inner_lines(panel):
            block.add_lwpolyline(mm(line), dxfattribs={"layer": _INNER})
        block.add_text(panel.name, height=12, dxfattribs={"layer": _CUT}).set_placement(mm([whole_outline(panel).mean(axis=0)])[0])
        room.add_blockref(_plain(panel.name), mm([panel.spot])[0])
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode()


def read_dxf(data: bytes, name: str) -> Layout:
    """Return the closed lines of a drawing as panels, open ones inside them as their inner lines.

    Raises `InputError` for a file that is none or holds no closed line. Where a drawing has a layer 1 only its lines are cut ones. A
    drawing that names no unit is taken as millimetres.
    """
    try:
        panels = _panels(ezdxf.read(io.StringIO(data.decode("utf-8", errors="replace"))))  # type: ignore[attr-defined]
    except Exception as error:  # whatever the reader stumbles over
        raise InputError(what="it cannot be read as DXF", where=name, todo="Save it as ASCII DXF, in true size and no larger than 6 m."
                         ) from error
    if not panels:
        raise InputError(what="it holds no closed line", where=name, todo="Export the cut lines as closed polylines.")
    return Layout(panels=tuple(panels))


def _panels(drawing: Drawing) -> list[Panel]:
    unit = {1: 0.0254, 4: 0.001, 5: 0.01, 6: 1.0}.get(drawing.header.get("$INSUNITS", 4), 0.001)
    panels: list[Panel] = []
    lines: list[np.ndarray] = []
    for title, parts in _groups(drawing):
        cut = [e for e in parts if e.dxf.layer == _CUT] or [e for e in parts if e.dxf.layer not in (_NOTCH, _GRAIN, _INNER)]
        turns = np.array([(e.dxf.location.x, e.dxf.location.y) for e in parts if e.dxftype() == "POINT" and e.dxf.layer == _TURNS])
        for line in (_closed(e) for e in cut):
            if line is not None:
                corners = traced(unit * line, unit * turns if len(turns) else None)
                if 3 <= len(corners) <= 200:
                    panels.append(anew(panels, title or f"panel {len(panels) + 1}", corners))
        lines += [unit * line for line in map(_open, (e for e in parts if e.dxf.layer not in (_NOTCH, _GRAIN))) if line is not None]
    return with_lines(panels, lines)


def _groups(drawing: Drawing) -> list[tuple[str, list]]:
    """Return what is drawn: each inserted block under its name, then what lies loose."""
    room = drawing.modelspace()
    out = [(ref.dxf.name, list(ref.virtual_entities())) for ref in room.query("INSERT") if isinstance(ref, Insert)]
    loose = [e for e in room if e.dxftype() != "INSERT"]
    return out + ([("", loose)] if loose else [])


def _closed(entity) -> np.ndarray | None:
    """Return a closed polyline or spline as points (k, 2), None for anything else."""
    points = _points(entity)
    if points is None or len(points) < 3:
        return None
    meets = bool(np.linalg.norm(points[0] - points[-1]) < 0.05)
    closed = meets or bool(getattr(entity, "closed", False)) or bool(getattr(entity, "is_closed", False))
    return (points[:-1] if meets else points) if closed else None


def _open(entity) -> np.ndarray | None:
    """Return a line that does not close, or any on the layer of inner ones, as points (k, 2), None for anything else."""
    points, closed = _points(entity), _closed(entity)
    if points is None or closed is None:
        return points
    return np.vstack([closed, closed[:1]]) if entity.dxf.layer == _INNER else None


def _points(entity) -> np.ndarray | None:
    match entity.dxftype():
        case "LINE":
            return np.array([(p.x, p.y) for p in (entity.dxf.start, entity.dxf.end)])
        case "LWPOLYLINE":
            return np.array([(p[0], p[1]) for p in entity.get_points("xy")])
        case "POLYLINE":
            return np.array([(v.dxf.location.x, v.dxf.location.y) for v in entity.vertices])
        case "SPLINE":
            return np.array([(p.x, p.y) for p in entity.flattening(0.2)])
        case _:
            return None


def _corner_spots(panel: Panel) -> list[tuple[float, float]]:
    spots = [c.at for c in panel.outline]
    return spots + [(-x, y) for x, y in spots if abs(x) > 1e-6] if panel.half == "fold" else spots


def _plain(name: str) -> str:
    return "".join(c if c.isalnum() or c in "-_ " else "-" for c in name)
