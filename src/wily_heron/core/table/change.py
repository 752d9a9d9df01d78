"""Changes to a layout that its seams must go along with: an edge split, a dart or a pleat put in, a corner taken out."""

from collections.abc import Callable

import numpy as np

from ..errors import InputError
from .layout import Corner, Layout, Panel, Seam, Side, Spot
from .outline import edge_length, edge_points

_FINE = 256


def split_edge(layout: Layout, name: str, edge: int, share: float) -> Layout:
    """Return the layout with a corner more at a share of an edge's length; what is sewn to it gets one at the same place.

    >>> corners = tuple(Corner(at=at) for at in ((0, 0), (0.2, 0), (0.2, 0.3), (0, 0.3)))
    >>> layout = split_edge(Layout(panels=(Panel(name="bag", outline=corners),)), "bag", 0, 0.25)
    >>> layout.panel("bag").outline[1].at
    (0.05, 0.0)
    """
    _edge_of(layout, name, edge)
    if not 0.02 <= share <= 0.98:
        raise InputError(what="a corner would lie on another", where=f"edge {edge + 1} of '{name}'",
                         todo="Choose a place nearer its middle.")
    cut = _sewn_on(layout, name, edge, share)
    place = {p.name: np.arange(len(p.outline)) + [sum((p.name, k) in cut for k in range(e)) for e in range(len(p.outline))]
             for p in layout.panels}

    def side(s: Side, second: bool = False) -> Side:
        return s.model_copy(update={"edge": int(place[s.panel][s.edge]) + second})

    seams = []
    for seam in layout.seams:
        seams.append(Seam(one=side(seam.one), two=side(seam.two), turned=seam.turned))
        if (seam.one.panel, seam.one.edge) in cut:
            seams[-1] = Seam(one=side(seam.one), two=side(seam.two, seam.turned), turned=seam.turned)
            seams.append(Seam(one=side(seam.one, True), two=side(seam.two, not seam.turned), turned=seam.turned))
    fast = [side(s, half) for s in layout.fast for half in ((False, True) if (s.panel, s.edge) in cut else (False,))]
    panels = tuple(_split(p, {e: t for (n, e), t in cut.items() if n == p.name}, place[p.name]) for p in layout.panels)
    return Layout.model_validate(layout.model_copy(update={"panels": panels, "seams": tuple(seams), "fast": tuple(fast)}).model_dump())


def with_dart(layout: Layout, name: str, edge: int, share: float, wide: float, deep: float) -> Layout:
    """Return the layout with a dart in an edge: its mouth `wide` metres, its tip `deep` metres inside, its legs sewn to each other.

    The mouth comes out of the edge, so that what is sewn to it is longer by that much. Raises `InputError` where the edge is too short.

    >>> corners = tuple(Corner(at=at) for at in ((0, 0), (0.2, 0), (0.2, 0.3), (0, 0.3)))
    >>> layout = with_dart(Layout(panels=(Panel(name="bag", outline=corners),)), "bag", 0, 0.5, wide=0.02, deep=0.1)
    >>> [tuple(round(x, 4) for x in corner.at) for corner in layout.panel("bag").outline[1:4]]
    [(0.09, 0.0), (0.1, 0.1), (0.11, 0.0)]
    >>> len(layout.seams)
    1
    """
    panel = _edge_of(layout, name, edge)
    half = _half_mouth(panel, edge, share, wide)
    layout = split_edge(layout, name, edge, share)
    panel = layout.panel(name)
    before, after = _along(panel, edge, -half), _along(panel, edge + 1, half)
    middle, way = np.array(panel.outline[edge + 1].at), np.array(after) - np.array(before)
    across = np.array([-way[1], way[0]]) / np.linalg.norm(way)
    tip = middle + deep * across * (1.0 if _inside_left(panel) else -1.0)
    layout = _opened(layout, name, edge, before, (_spot(tip),), after)
    legs = Seam(one=Side(panel=name, edge=edge + 1), two=Side(panel=name, edge=edge + 2), turned=True)
    return layout.model_copy(update={"seams": (*layout.seams, legs)})


def with_pleat(layout: Layout, name: str, edge: int, share: float, deep: float) -> Layout:
    """Return the layout with a pleat in an edge, `deep` metres folded under: the panel is spread by twice as much beyond it, and the fold
    is sewn in the edge. Raises `InputError` for an edge that does not run across the panel."""
    panel = _edge_of(layout, name, edge)
    line = edge_points(panel, edge, _FINE)
    if abs(line[-1, 0] - line[0, 0]) < 2 * abs(line[-1, 1] - line[0, 1]):
        raise InputError(what=f"edge {edge + 1} of '{name}' does not run across it", where="the pleat",
                         todo="Choose an edge at the top or the bottom, such as a waist.")
    layout = split_edge(layout, name, edge, share)
    panel = layout.panel(name)
    at, rightward = panel.outline[edge + 1].at, line[-1, 0] > line[0, 0]
    spread = lambda p: p if p[0] <= at[0] + 1e-9 else (round(p[0] + 2 * deep, 5), p[1])  # noqa: E731
    wider = tuple(c.model_copy(update={"at": spread(c.at), "bend": c.bend and (spread(c.bend[0]), spread(c.bend[1]))})
                  for c in panel.outline)
    lines = tuple(tuple(spread(p) for p in line) for line in panel.lines)
    layout = _replaced(layout, panel.model_copy(update={"outline": wider, "lines": lines}))
    far = (at[0] + 2 * deep, at[1])
    ends = (at, far) if rightward else (far, at)
    layout = _opened(layout, name, edge, ends[0], ((at[0] + deep, at[1]),), ends[1])
    fold = Seam(one=Side(panel=name, edge=edge + 1), two=Side(panel=name, edge=edge + 2), turned=True)
    return layout.model_copy(update={"seams": (*layout.seams, fold)})


def without_corner(layout: Layout, name: str, corner: int) -> Layout:
    """Return the layout with a corner taken out: its two edges become one, straight if both were; their seams come undone.

    >>> corners = tuple(Corner(at=at) for at in ((0, 0), (0.2, 0), (0.2, 0.3), (0, 0.3)))
    >>> layout = without_corner(Layout(panels=(Panel(name="bag", outline=corners),)), "bag", 2)
    >>> [corner.at for corner in layout.panel("bag").outline]
    [(0.0, 0.0), (0.2, 0.0), (0.0, 0.3)]
    """
    panel = layout.panel(name)
    count = len(panel.outline)
    if count <= 3:
        raise InputError(what=f"'{name}' has three corners only", where="the cutting table", todo="Take the panel away instead.")
    if not 0 <= corner < count:
        raise InputError(what=f"'{name}' has no corner {corner + 1}", where="the cutting table", todo="Choose one of its corners.")
    before = (corner - 1) % count
    curves = [panel.outline[k].bend for k in (before, corner)]
    bend = None if curves == [None, None] else (
        curves[0][0] if curves[0] else panel.outline[before].at, curves[1][1] if curves[1] else panel.outline[(corner + 1) % count].at)
    outline = [c for k, c in enumerate(panel.outline) if k != corner]
    joined = before if corner else before - 1  # where the joined edge begins now
    outline[joined] = outline[joined].model_copy(update={"bend": bend})
    place = lambda e: None if e in (before, corner) else e - (e > corner)  # noqa: E731
    kept = tuple((e, s) for e, s in ((place(e), s) for e, s in panel.notches) if e is not None)
    return _moved(_replaced(layout, panel.model_copy(update={"outline": tuple(outline), "notches": kept}), check=False), name, place)


def _sewn_on(layout: Layout, name: str, edge: int, share: float) -> dict[tuple[str, int], float]:
    """Return an edge and all that is sewn to it, one to the next, each with the share of its length at the same place of the seam."""
    found, waiting = {(name, edge): share}, [(name, edge)]
    while waiting:
        here = waiting.pop()
        for seam in layout.seams:
            ends = [(s.panel, s.edge) for s in (seam.one, seam.two)]
            for own, other in (ends, ends[::-1]):
                if own == here and other not in found:
                    found[other] = 1.0 - found[here] if seam.turned else found[here]
                    waiting.append(other)
    return found


def _split(panel: Panel, cut: dict[int, float], place: np.ndarray) -> Panel:
    """Return a panel with its edges `cut` at shares of their lengths; `place` is where each edge begins then."""
    outline, notches = [], []
    for e, corner in enumerate(panel.outline):
        outline += list(_halves(panel, e, cut[e])) if e in cut else [corner]
    for e, s in panel.notches:
        at, share = int(place[e]), cut.get(e)
        notches.append((at, s) if share is None else (at, s / share) if s <= share else (at + 1, (s - share) / (1 - share)))
    return panel.model_copy(update={"outline": tuple(outline), "notches": tuple(notches)})


def _halves(panel: Panel, edge: int, share: float) -> tuple[Corner, Corner]:
    """Return the corners that begin the two parts of an edge split at a share of its length. Follows: de Casteljau."""
    a, b = panel.outline[edge], panel.outline[(edge + 1) % len(panel.outline)]
    if a.bend is None:
        mid = tuple(round((1 - share) * a.at[k] + share * b.at[k], 5) for k in (0, 1))
        return a, Corner(at=mid)  # type: ignore[arg-type]
    line = np.array([a.at, *a.bend, b.at])
    t = _at_share(line, share)
    p = [line]
    while len(p[-1]) > 1:
        p.append((1 - t) * p[-1][:-1] + t * p[-1][1:])
    return (Corner(at=a.at, bend=(_spot(p[1][0]), _spot(p[2][0]))),
            Corner(at=_spot(p[3][0]), bend=(_spot(p[2][1]), _spot(p[1][2]))))


def _at_share(line: np.ndarray, share: float) -> float:
    t = np.linspace(0.0, 1.0, _FINE + 1)
    s = 1 - t
    on = np.stack([s**3, 3 * s**2 * t, 3 * s * t**2, t**3], axis=1) @ line
    gone = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(on, axis=0), axis=1))])
    return float(np.interp(share * gone[-1], gone, t))


def _half_mouth(panel: Panel, edge: int, share: float, wide: float) -> float:
    room = min(share, 1 - share) * edge_length(panel, edge)
    if wide / 2 > 0.9 * room:
        raise InputError(what=f"the edge leaves {100 * room:.1f} cm on one side", where=f"the dart in '{panel.name}'",
                         todo="Make it narrower, or set it nearer the middle of the edge.")
    return wide / 2


def _along(panel: Panel, edge: int, by: float) -> Spot:
    """Return the place `by` metres along an edge from its start, or before its end for a negative one."""
    share = by / edge_length(panel, edge)
    at = (share if by >= 0 else 1 + share) * _FINE
    step = min(int(at), _FINE - 1)
    line = edge_points(panel, edge, _FINE)
    return _spot(line[step] + (at - step) * (line[step + 1] - line[step]))


def _opened(layout: Layout, name: str, edge: int, before: Spot, between: tuple[Spot, ...], after: Spot) -> Layout:
    """Return the layout with the corner that ends an edge replaced by three: where a mouth begins, what lies between, where it ends."""
    panel, more = layout.panel(name), len(between) + 1
    last = panel.outline[edge + 1]
    outline = (*panel.outline[: edge + 1], Corner(at=before), *(Corner(at=p) for p in between), last.model_copy(update={"at": after}),
               *panel.outline[edge + 2:])
    place = lambda e: e + more * (e > edge)  # noqa: E731
    notches = tuple((place(e), s) for e, s in panel.notches)
    return _moved(_replaced(layout, panel.model_copy(update={"outline": outline, "notches": notches}), check=False), name, place)


def _inside_left(panel: Panel) -> bool:
    p = np.array([c.at for c in panel.outline])
    q = np.roll(p, -1, axis=0)
    return float(np.sum(p[:, 0] * q[:, 1] - q[:, 0] * p[:, 1])) > 0


def _edge_of(layout: Layout, name: str, edge: int) -> Panel:
    panel = layout.panel(name)
    if not 0 <= edge < len(panel.outline):
        raise InputError(what=f"'{name}' has no edge {edge + 1}", where="the cutting table", todo="Choose one of its edges.")
    if panel.on_fold(edge):
        raise InputError(what="that edge is the fold line", where=f"'{name}'", todo="Choose another edge.")
    return panel


def _replaced(layout: Layout, panel: Panel, check: bool = True) -> Layout:
    panels = tuple(panel if p.name == panel.name else p for p in layout.panels)
    made = layout.model_copy(update={"panels": panels})
    return Layout.model_validate(made.model_dump()) if check else made


def _moved(layout: Layout, name: str, place: Callable[[int], int | None]) -> Layout:
    """Return the layout with the edges of a panel numbered anew; seams of an edge that is gone come undone."""
    def side(s: Side) -> Side | None:
        if s.panel != name:
            return s
        edge = place(s.edge)
        return None if edge is None else s.model_copy(update={"edge": edge})

    seams = [(side(s.one), side(s.two), s.turned) for s in layout.seams]
    fast = [side(s) for s in layout.fast]
    return layout.model_copy(update={"seams": tuple(Seam(one=a, two=b, turned=t) for a, b, t in seams if a and b),
                                     "fast": tuple(s for s in fast if s)})


def _spot(p) -> Spot:
    return round(float(p[0]), 5), round(float(p[1]), 5)
