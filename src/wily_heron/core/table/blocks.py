"""Ready blocks: panels drafted from a wearer's measures with an ease."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq

from ..errors import InputError
from ..figure.base.body import Wearer
from ..figure.measures.measures import take
from ..figure.measures.tapes import level_of, marks
from .layout import Corner, Layout, Panel, Round, Seam, Side
from .outline import edge_length


@dataclass(frozen=True)
class Setting:
    """A length a block asks for (metres), what it is unless told, and its bounds."""

    name: str
    label: str
    usual: float
    least: float
    most: float


class _Measured:
    """What the drafts need of a wearer, in metres: girths, and the height and breadth of the points they pass."""

    def __init__(self, wearer: Wearer) -> None:
        try:
            taken, at = take(wearer), marks(level_of(wearer.body)).at
        except (KeyError, IndexError, ValueError) as error:
            raise InputError(what="a block needs the measures of the house's figure", where="this wearer",
                             todo="Choose one of the cast that stands on it.") from error
        self.girth = {name.removesuffix("_girth"): t.value for name, t in taken.items() if name.endswith("_girth")}
        self.arm = taken["arm_length"].value
        self.head = taken["stature"].value - taken["cervical_height"].value
        mark = {name: wearer.points[v] for name, v in at.items()}
        self.neck_x, self.neck_y = float(mark["neck_side"][0]), float(mark["neck_side"][1])
        self.shoulder_x, self.shoulder_y = float(mark["acromion"][0]), float(mark["acromion"][1])
        self.nape_y, self.throat_y = float(mark["cervical"][1]), float(mark["neck_front"][1])
        self.under_y, self.bust_y, self.waist_y = (float(mark[m][1]) for m in ("armpit", "bust", "waist"))
        self.hip_y, self.crotch_y, self.crown_y = (float(mark[m][1]) for m in ("hip", "crotch", "crown"))
        self.floor_y = float(wearer.points[:, 1].min())
        self.hip_joint = float(wearer.skeleton.positions[wearer.skeleton.index("l_hip")][0])
        self.skull_z = float(mark["brow"][2])


@dataclass(frozen=True)
class Block:
    """A block by name: its settings and how it is drafted."""

    name: str
    label: str
    settings: tuple[Setting, ...]
    draft: Callable[[_Measured, dict[str, float]], Layout]


def block_layout(name: str, wearer: Wearer, asked: dict[str, float] | None = None) -> Layout:
    """Return a block drafted for a wearer with settings in metres; raises `InputError` for an unknown block or setting, and for a length
    out of bounds.

    Args:
        name: The block.
        wearer: The body in its shape, at rest.
        asked: Lengths by setting, metres; its own where none is given.
    """
    block = BLOCKS.get(name)
    if block is None:
        raise InputError(what=f"there is no block '{name}'", where="the cutting table", todo=f"Choose among {', '.join(BLOCKS)}.")
    values = {s.name: s.usual for s in block.settings}
    for key, value in (asked or {}).items():
        setting = next((s for s in block.settings if s.name == key), None)
        if setting is None:
            raise InputError(what=f"a {block.label.lower()} has no setting '{key}'", where="the block",
                             todo=f"Its settings are {', '.join(values)}.")
        if not setting.least <= value <= setting.most:
            raise InputError(what=f"{setting.label.lower()} of {100 * value:.1f} cm", where=f"the {block.label.lower()}",
                             todo=f"Give {100 * setting.least:.0f} to {100 * setting.most:.0f} cm.")
        values[key] = value
    made = block.draft(_Measured(wearer), values)
    return beside(made.model_copy(update={"block": name, "made": values}))


def beside(layout: Layout) -> Layout:
    """Return the layout with its panels side by side on the table, a hand's breadth apart.

    >>> corners = tuple(Corner(at=at) for at in ((0, 0), (0.2, 0), (0.2, 0.3)))
    >>> two = Layout(panels=tuple(Panel(name=name, outline=corners) for name in ("front", "back")))
    >>> front, back = beside(two).panels
    >>> bool(back.spot[0] - front.spot[0] > 0.2)
    True
    """
    x, panels = 0.0, []
    for panel in layout.panels:
        at = np.array([p for c in panel.outline for p in (c.at, *(c.bend or ()))])
        low, high = at[:, 0].min(), at[:, 0].max()
        if panel.half == "fold":
            low = -high
        panels.append(panel.model_copy(update={"spot": (round(x - low, 4), round(-float(at[:, 1].max()), 4))}))
        x += high - low + 0.08
    return layout.model_copy(update={"panels": tuple(panels)})


def _bodice(m: _Measured, s: dict[str, float]) -> Layout:
    hem = m.waist_y - s["length"]
    front = _half_bodice("front", m, s, m.throat_y - 0.01, hem)
    back = _half_bodice("back", m, s, m.nape_y - 0.005, hem)
    seams = [_both("front", "back", e) for e in (1, 3, 4)]
    panels = [front, back]
    if s["sleeve"] > 0:
        panels.append(_sleeve(m, s, edge_length(front, 2), edge_length(back, 2)))
        seams += [Seam(one=Side(panel="sleeve", edge=0), two=Side(panel="front", edge=2)),
                  Seam(one=Side(panel="sleeve", edge=4), two=Side(panel="back", edge=2), turned=True),
                  Seam(one=Side(panel="sleeve", edge=1), two=Side(panel="sleeve", edge=3), turned=True)]
    return Layout(panels=tuple(panels), seams=tuple(seams))


def _half_bodice(name: str, m: _Measured, s: dict[str, float], neck_y: float, hem: float) -> Panel:
    """Corners: neck, shoulder at the neck, shoulder, underarm, waist, hem, hem at the fold."""
    ease = s["ease"]
    quarter, waist = (m.girth["bust"] + ease) / 4, (m.girth["waist"] + ease) / 4
    hip = (m.girth["hip"] + ease) / 4
    t = np.clip((m.waist_y - hem) / max(m.waist_y - m.hip_y, 0.05), 0.0, 1.0)
    low = (1 - t) * waist + t * hip
    neck_x, under = m.neck_x + 0.012, m.under_y - 0.04
    deep = m.shoulder_x - (0.02 if name == "front" else 0.008)  # the armhole is hollowed more before than behind
    points = [(0.0, neck_y), (neck_x, m.neck_y + 0.012), (m.shoulder_x + 0.008, m.shoulder_y + 0.016), (quarter, under), (waist, m.waist_y),
              (low, hem), (0.0, hem)]
    down = m.waist_y - hem
    bends = {0: ((0.7 * neck_x, neck_y), (neck_x, neck_y + 0.25 * (m.neck_y - neck_y))),
             3: ((quarter - 0.005, under - 0.3 * (under - m.waist_y)), (waist, m.waist_y + 0.3 * (under - m.waist_y))),
             4: ((waist, m.waist_y - 0.35 * down), (low - 0.005, hem + 0.4 * down)),
             2: ((deep, m.shoulder_y - 0.45 * (m.shoulder_y - under)), (deep, under + 0.004))}
    return _panel(name, points, bends, "fold", Round(part="torso", face="back" if name == "back" else "front"))


def _sleeve(m: _Measured, s: dict[str, float], front: float, back: float) -> Panel:
    """Corners: top of the cap, underarm before, wrist before, wrist behind, underarm behind; its cap is as long as the armhole."""
    wide = 0.5 * (m.girth["upper_arm"] + max(s["ease"], 0.06))
    length, down = m.arm * s["sleeve"] / 0.6, 0.55 * m.arm
    elbow = 0.5 * (max(m.girth["elbow"], m.girth["forearm"]) + 0.06)
    taper = max(0.0, wide - elbow) / down  # it narrows evenly and clears the elbow
    wrist = max(0.5 * m.girth["wrist"] + 0.02, wide - taper * length)

    def made(high: float) -> Panel:
        points = [(0.0, 0.0), (wide, -high), (wrist, -length), (-wrist, -length), (-wide, -high)]
        bends = {0: ((0.45 * wide, 0.0), (0.6 * wide, -high)), 4: ((-0.6 * wide, -high), (-0.45 * wide, 0.0))}
        return _panel("sleeve", points, bends, "pair", Round(part="arm"))

    short = lambda high: edge_length(made(high), 0) + edge_length(made(high), 4) - front - back  # noqa: E731
    most = 0.9 * length
    if short(0.01) > 0 or short(most) < 0:
        return made(0.05)
    return made(float(np.asarray(brentq(short, 0.01, most))))


def _tabard(m: _Measured, s: dict[str, float]) -> Layout:
    wide, hem = m.shoulder_x - 0.02 + s["ease"] / 4, m.waist_y - s["length"]
    panels = []
    for name, neck_y in (("front", m.throat_y - 0.03), ("back", m.nape_y - 0.01)):
        neck_x = m.neck_x + 0.02
        points = [(0.0, neck_y), (neck_x, m.neck_y + 0.015), (wide, m.shoulder_y + 0.015), (wide + 0.02, m.waist_y), (wide + 0.05, hem),
                  (0.0, hem)]
        bends = {0: ((0.8 * neck_x, neck_y), (neck_x, neck_y + 0.2 * (m.neck_y - neck_y)))}
        panels.append(_panel(name, points, bends, "fold", Round(face="back" if name == "back" else "front")))
    return Layout(panels=tuple(panels), seams=(_both("front", "back", 1),))


def _skirt(m: _Measured, s: dict[str, float]) -> Layout:
    waist, hip = (m.girth["waist"] + 0.5 * s["ease"]) / 4, (m.girth["hip"] + s["ease"]) / 4
    hem_y = max(m.waist_y - s["length"], m.floor_y + 0.03)
    hem = hip + s["flare"] / 4
    panels = []
    for name in ("front", "back"):
        points = [(0.0, m.waist_y), (waist, m.waist_y + 0.006), (hip, m.hip_y), (hem, hem_y + 0.01), (0.0, hem_y)]
        bends = {1: ((waist + 0.4 * (hip - waist), m.waist_y - 0.35 * (m.waist_y - m.hip_y)),
                     (hip, m.hip_y + 0.35 * (m.waist_y - m.hip_y)))}
        panels.append(_panel(name, points, bends, "fold", Round(face="back" if name == "back" else "front")))
    return Layout(panels=tuple(panels), seams=(_both("front", "back", 1), _both("front", "back", 2)),
                  fast=(Side(panel="front", edge=0), Side(panel="back", edge=0)))


def _trousers(m: _Measured, s: dict[str, float]) -> Layout:
    """Corners of each quarter: waist at the middle, waist at the side, hip, hem outside, hem inside, fork, curve of the seat."""
    hem_y = m.floor_y + 0.05 + s["shorter"]
    panels = []
    for name, fork, seat in (("front", 0.045, 0.0), ("back", 0.075, 0.025)):
        waist, hip = (m.girth["waist"] + 0.5 * s["ease"]) / 4, (m.girth["hip"] + s["ease"]) / 4 + (0.0 if seat else -0.015)
        fork_y = m.crotch_y - 0.012
        knee = 0.5 * (m.girth["ankle"] + 0.12 + s["ease"])
        points = [(0.0, m.waist_y + seat), (waist, m.waist_y), (hip, m.hip_y), (m.hip_joint + 0.5 * knee, hem_y),
                  (m.hip_joint - 0.5 * knee, hem_y), (-fork, fork_y), (0.0, fork_y + 0.09)]
        bends = {1: ((waist + 0.3 * (hip - waist), m.waist_y - 0.33 * (m.waist_y - m.hip_y)),
                     (hip, m.hip_y + 0.2 * (m.waist_y - m.hip_y))),
                 2: ((hip, m.hip_y - 0.2), (m.hip_joint + 0.5 * knee + 0.01, hem_y + 0.3)),
                 5: ((-0.4 * fork, fork_y), (0.0, fork_y + 0.03))}
        panels.append(_panel(name, points, bends, "pair", Round(part="leg", face="back" if name == "back" else "front")))
    seams = [Seam(one=Side(panel="front", edge=e), two=Side(panel="back", edge=e)) for e in (1, 2, 4)]
    seams += [Seam(one=Side(panel=n, edge=e), two=Side(panel=n, edge=e, other=True)) for n in ("front", "back") for e in (5, 6)]
    return Layout(panels=tuple(panels), seams=tuple(seams), fast=(Side(panel="front", edge=0), Side(panel="back", edge=0)))


def _cape(m: _Measured, s: dict[str, float]) -> Layout:
    """A part of a ring: its inner edge lies about the neck, its straight edges hang in front."""
    turn = np.radians(100.0)
    inner = 1.12 * m.girth["neck_base"] / (2 * turn)
    outer = inner + s["length"]
    way = lambda a: np.array([np.sin(a), -np.cos(a)])  # noqa: E731
    points = [tuple(inner * way(0)), tuple(outer * way(0)), tuple(outer * way(turn / 2)), tuple(outer * way(turn)),
              tuple(inner * way(turn)), tuple(inner * way(turn / 2))]

    def arc(r: float, a: float, b: float) -> tuple:
        k = 4 / 3 * np.tan((b - a) / 4) * r
        along = lambda t: np.array([np.cos(t), np.sin(t)])  # noqa: E731
        return tuple(r * way(a) + k * along(a)), tuple(r * way(b) - k * along(b))

    bends = {1: arc(outer, 0, turn / 2), 2: arc(outer, turn / 2, turn), 4: arc(inner, turn, turn / 2), 5: arc(inner, turn / 2, 0)}
    panel = _panel("cape", points, bends, "fold", Round(part="shoulders", face="back"))
    return Layout(panels=(panel,), fast=(Side(panel="cape", edge=4), Side(panel="cape", edge=5)))


def _hood(m: _Measured, s: dict[str, float]) -> Layout:
    """One side, drawn from the wearer's left: x runs forward. Sewn to the other along the crown and the back of the head."""
    top, front = m.crown_y + 0.09 + s["ease"] / 2, m.skull_z + 0.02
    back, low = m.skull_z - m.girth["head"] / 3 - 0.09, max(m.nape_y, m.neck_y) + 0.01
    points = [(front - 0.02, low), (front + 0.01, top - 0.09), (front - 0.06, top), (back, top - 0.13), (back + 0.05, low)]
    bends = {2: ((front - 0.13, top + 0.01), (back, top + 0.01)), 3: ((back - 0.005, low + 0.18), (back + 0.05, low + 0.08))}
    panel = _panel("side", points, bends, "pair", Round(part="side of the head"))
    seams = tuple(Seam(one=Side(panel="side", edge=e), two=Side(panel="side", edge=e, other=True)) for e in (1, 2, 3))
    return Layout(panels=(panel,), seams=seams, fast=(Side(panel="side", edge=4),))


def _panel(name: str, points: list, bends: dict, half: str, laid: Round) -> Panel:
    spot = lambda p: (round(float(p[0]), 4), round(float(p[1]), 4))  # noqa: E731
    corners = tuple(Corner(at=spot(p), bend=(spot(bends[k][0]), spot(bends[k][1])) if k in bends else None) for k, p in enumerate(points))
    return Panel.model_validate({"name": name, "outline": corners, "half": half, "laid": laid})


def _both(one: str, two: str, edge: int) -> Seam:
    return Seam(one=Side(panel=one, edge=edge), two=Side(panel=two, edge=edge))


_EASE = Setting("ease", "Ease", 0.10, 0.0, 0.6)
BLOCKS = {b.name: b for b in (
    Block("bodice", "Bodice", (_EASE, Setting("length", "Below the waist", 0.15, -0.1, 0.6), Setting("sleeve", "Sleeve", 0.0, 0.0, 0.6)),
          _bodice),
    Block("tabard", "Tabard", (_EASE, Setting("length", "Below the waist", 0.45, 0.0, 0.9)),
          _tabard),
    Block("skirt", "Skirt", (Setting("ease", "Ease", 0.06, 0.0, 0.6), Setting("length", "Length", 0.65, 0.2, 1.1),
                             Setting("flare", "Flare at the hem", 0.5, 0.0, 3.0)), _skirt),
    Block("trousers", "Trousers", (Setting("ease", "Ease", 0.06, 0.0, 0.6), Setting("shorter", "Shorter by", 0.0, 0.0, 0.7)), _trousers),
    Block("cape", "Cape", (Setting("length", "Length", 0.6, 0.2, 1.2),), _cape),
    Block("hood", "Hood", (Setting("ease", "Ease", 0.06, 0.0, 0.3),), _hood),
)}
