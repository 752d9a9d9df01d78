"""How the ready blocks are drafted from a wearer's measures; the lengths of each draft stand in `blocks.toml`."""

import tomllib
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from scipy.optimize import brentq

from ..errors import InputError
from ..figure.base.body import Wearer
from ..figure.measures.measures import take
from ..figure.measures.tapes import level_of, marks
from .layout import Corner, Layout, Panel, Round, Seam, Side
from .outline import edge_length

TABLE: dict[str, Any] = tomllib.loads(Path(__file__).with_name("blocks.toml").read_text())


class Measured:
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


def _bodice(m: Measured, s: dict[str, float]) -> Layout:
    d, hem = TABLE["bodice"]["draft"], m.waist_y - s["length"]
    front = _half_bodice("front", m, s, m.throat_y - d["front_neck_below"], hem)
    back = _half_bodice("back", m, s, m.nape_y - d["back_neck_below"], hem)
    seams = [_both("front", "back", e) for e in (1, 3, 4)]
    panels = [front, back]
    if s["sleeve"] >= TABLE["bodice"]["sleeve"]["least"]:
        panels.append(_sleeve(m, s, edge_length(front, 2), edge_length(back, 2)))
        seams += [Seam(one=Side(panel="sleeve", edge=0), two=Side(panel="front", edge=2)),
                  Seam(one=Side(panel="sleeve", edge=4), two=Side(panel="back", edge=2), turned=True),
                  Seam(one=Side(panel="sleeve", edge=1), two=Side(panel="sleeve", edge=3), turned=True)]
    return Layout(panels=tuple(panels), seams=tuple(seams))


def _half_bodice(name: str, m: Measured, s: dict[str, float], neck_y: float, hem: float) -> Panel:
    """Corners: neck, shoulder at the neck, shoulder, underarm, waist, hem, hem at the fold."""
    d, ease = TABLE["bodice"]["draft"], s["ease"]
    quarter, waist = (m.girth["bust"] + ease) / 4, (m.girth["waist"] + ease) / 4
    hip = (m.girth["hip"] + ease) / 4
    neck_x, under = m.neck_x + d["neck_wider"], m.under_y - d["underarm_lower"]
    waist_y = max(m.waist_y, hem + d["least_below_waist"])  # a short one ends above the waist
    waist = float(np.interp(waist_y, [m.waist_y, under], [waist, quarter]))
    t = np.clip((waist_y - hem) / max(waist_y - m.hip_y, 0.05), 0.0, 1.0)
    low = (1 - t) * waist + t * hip if waist_y == m.waist_y else waist
    deep = m.shoulder_x - d[f"{name}_hollow"]
    points = [(0.0, neck_y), (neck_x, m.neck_y + d["neck_higher"]),
              (m.shoulder_x + d["shoulder_wider"], m.shoulder_y + d["shoulder_higher"]), (quarter, under),
              (waist, waist_y), (low, hem), (0.0, hem)]
    down, (from_waist, from_hem) = waist_y - hem, d["hem_curve"]
    bends = {0: ((d["neck_flat"] * neck_x, neck_y), (neck_x, neck_y + d["neck_rise"] * (m.neck_y - neck_y))),
             3: ((quarter - d["side_in"], under - d["side_curve"] * (under - waist_y)),
                 (waist, waist_y + d["side_curve"] * (under - waist_y))),
             4: ((waist, waist_y - from_waist * down), (low - d["side_in"], hem + from_hem * down)),
             2: ((deep, m.shoulder_y - d["armhole_down"] * (m.shoulder_y - under)), (deep, under + d["armhole_flat"]))}
    return _panel(name, points, bends, "fold", Round(part="torso", face="back" if name == "back" else "front"))


def _sleeve(m: Measured, s: dict[str, float], front: float, back: float) -> Panel:
    """Corners: top of the cap, underarm before, wrist before, wrist behind, underarm behind; its cap is as long as the armhole."""
    d = TABLE["bodice"]["sleeve"]
    wide = 0.5 * (m.girth["upper_arm"] + max(s["ease"], d["least_ease"]))
    length, down = m.arm * s["sleeve"] / d["whole"], d["elbow_at"] * m.arm
    elbow = 0.5 * (max(m.girth["elbow"], m.girth["forearm"]) + d["elbow_ease"])
    tight = 0.5 * m.girth["wrist"] + d["wrist_ease"]
    top, shoulder = d["cap"]

    def made(high: float, wide: float = wide) -> Panel:
        taper = max(0.0, wide - elbow) / down  # it narrows evenly and clears the elbow
        wrist = max(tight, wide - taper * length)
        points = [(0.0, 0.0), (wide, -high), (wrist, -length), (-wrist, -length), (-wide, -high)]
        bends = {0: ((top * wide, 0.0), (shoulder * wide, -high)), 4: ((-shoulder * wide, -high), (-top * wide, 0.0))}
        return _panel("sleeve", points, bends, "pair", Round(part="arm"))

    def over(high: float, wide: float = wide) -> float:
        """How much longer the cap is than the armhole."""
        cap = made(high, wide)
        return edge_length(cap, 0) + edge_length(cap, 4) - front - back

    least, share = d["cap_bounds"]
    most = share * length
    if least < most and over(least) <= 0 <= over(most):
        return made(float(np.asarray(brentq(over, least, most))))
    # too wide for the armhole under any cap, or too short for a high one: its width is what the armhole asks for
    high = min(d["cap_usual"], most)
    return made(high, float(np.asarray(brentq(lambda wide: over(high, wide), 0.02, front + back))))


def _tabard(m: Measured, s: dict[str, float]) -> Layout:
    d = TABLE["tabard"]["draft"]
    wide, hem = m.shoulder_x - d["shoulder_narrower"] + s["ease"] / 4, m.waist_y - s["length"]
    waist_y = max(m.waist_y, hem + d["least_below_waist"])
    panels = []
    for name, neck_y in (("front", m.throat_y - d["front_neck_below"]), ("back", m.nape_y - d["back_neck_below"])):
        neck_x = m.neck_x + d["neck_wider"]
        points = [(0.0, neck_y), (neck_x, m.neck_y + d["neck_higher"]), (wide, m.shoulder_y + d["shoulder_higher"]),
                  (wide + d["waist_wider"], waist_y), (wide + d["hem_wider"], hem), (0.0, hem)]
        bends = {0: ((d["neck_flat"] * neck_x, neck_y), (neck_x, neck_y + d["neck_rise"] * (m.neck_y - neck_y)))}
        panels.append(_panel(name, points, bends, "fold", Round(face="back" if name == "back" else "front")))
    return Layout(panels=tuple(panels), seams=(_both("front", "back", 1),))


def _skirt(m: Measured, s: dict[str, float]) -> Layout:
    d = TABLE["skirt"]["draft"]
    waist, hip = (m.girth["waist"] + d["waist_ease"] * s["ease"]) / 4, (m.girth["hip"] + s["ease"]) / 4
    hem_y = max(m.waist_y - s["length"], m.floor_y + d["off_floor"])
    hem, hip_y = hip + s["flare"] / 4, max(m.hip_y, hem_y + d["least_below_hip"])  # a short one ends above the hips
    out, down = d["hip_curve"]
    panels = []
    for name in ("front", "back"):
        points = [(0.0, m.waist_y), (waist, m.waist_y + d["side_higher"]), (hip, hip_y), (hem, hem_y + d["hem_higher"]), (0.0, hem_y)]
        bends = {1: ((waist + out * (hip - waist), m.waist_y - down * (m.waist_y - hip_y)), (hip, hip_y + down * (m.waist_y - hip_y)))}
        panels.append(_panel(name, points, bends, "fold", Round(face="back" if name == "back" else "front")))
    return Layout(panels=tuple(panels), seams=(_both("front", "back", 1), _both("front", "back", 2)),
                  fast=(Side(panel="front", edge=0), Side(panel="back", edge=0)))


def _trousers(m: Measured, s: dict[str, float]) -> Layout:
    """Corners of each quarter: waist at the middle, waist at the side, hip, hem outside, hem inside, fork, curve of the seat."""
    d = TABLE["trousers"]["draft"]
    fork_y = m.crotch_y - d["fork_lower"]
    hem_y = min(m.floor_y + d["off_floor"] + s["shorter"], fork_y - d["least_leg"])
    (out, down, up), (above_hem, beside_hem, leg), (fork_flat, fork_rise) = d["hip_curve"], d["leg_curve"], d["fork_curve"]
    panels = []
    hem = min(0.25 * (m.girth["ankle"] + d["hem_ease"] + s["ease"]), m.hip_joint + d["front_fork"])  # not wider inwards than the fork
    inner = m.hip_joint - hem
    lower = _as_long(d["back_fork"] + inner, d["front_fork"] + inner, fork_y - hem_y)
    for name, fork, seat, inwards in (("front", d["front_fork"], 0.0, d["front_hip_in"]), ("back", d["back_fork"], d["seat_higher"], 0.0)):
        waist, hip = (m.girth["waist"] + d["waist_ease"] * s["ease"]) / 4, (m.girth["hip"] + s["ease"]) / 4 + inwards
        fork_at = fork_y - (lower if name == "back" and lower > d["fork_off"] else 0.0)
        points = [(0.0, m.waist_y + seat), (waist, m.waist_y), (hip, m.hip_y), (m.hip_joint + hem, hem_y), (inner, hem_y),
                  (-fork, fork_at), (0.0, fork_y + d["seat_curve"])]
        bends = {1: ((waist + out * (hip - waist), m.waist_y - down * (m.waist_y - m.hip_y)),
                     (hip, m.hip_y + up * (m.waist_y - m.hip_y))),
                 2: ((hip, m.hip_y - min(above_hem, 0.3 * (m.hip_y - hem_y))),
                     (m.hip_joint + hem + beside_hem, hem_y + min(leg, 0.5 * (fork_y - hem_y)))),
                 5: ((-fork_flat * fork, fork_at), (0.0, fork_y + fork_rise))}
        panels.append(_panel(name, points, bends, "pair", Round(part="leg", face="back" if name == "back" else "front")))
    seams = [Seam(one=Side(panel="front", edge=e), two=Side(panel="back", edge=e)) for e in (1, 2, 4)]
    seams += [Seam(one=Side(panel=n, edge=e), two=Side(panel=n, edge=e, other=True)) for n in ("front", "back") for e in (5, 6)]
    return Layout(panels=tuple(panels), seams=tuple(seams), fast=(Side(panel="front", edge=0), Side(panel="back", edge=0)))


def _as_long(far: float, near: float, high: float) -> float:
    """Return by how much a line that goes `far` aside and `high` up is to go less high, to be as long as one that goes `near` aside."""
    return high - float(np.sqrt(max(high**2 + near**2 - far**2, 0.0)))


def _cape(m: Measured, s: dict[str, float]) -> Layout:
    """A part of a ring: its inner edge lies about the neck, its straight edges hang in front."""
    d = TABLE["cape"]["draft"]
    turn = np.radians(d["degrees"])
    inner = d["neck_share"] * m.girth["neck_base"] / (2 * turn)
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


def _hood(m: Measured, s: dict[str, float]) -> Layout:
    """One side, drawn from the wearer's left: x runs forward. Sewn to the other along the crown and the back of the head."""
    d = TABLE["hood"]["draft"]
    top, front = m.crown_y + d["above_crown"] + s["ease"] / 2, m.skull_z + d["before_brow"]
    back, low = m.skull_z - m.girth["head"] / 3 - d["behind_head"], max(m.nape_y, m.neck_y) + d["above_nape"]
    points = [(front - d["chin_back"], low), (front + d["face_out"], top - d["face_top"]), (front - d["crown_back"], top),
              (back, top - d["back_top"]), (back + d["nape_in"], low)]
    (over, rise, behind), (inwards, high, neck) = d["crown_curve"], d["nape_curve"]
    bends = {2: ((front - over, top + rise), (back, top + behind)), 3: ((back - inwards, low + high), (back + d["nape_in"], low + neck))}
    panel = _panel("side", points, bends, "pair", Round(part="side of the head"))
    seams = tuple(Seam(one=Side(panel="side", edge=e), two=Side(panel="side", edge=e, other=True)) for e in (1, 2, 3))
    return Layout(panels=(panel,), seams=seams, fast=(Side(panel="side", edge=4),))


def _panel(name: str, points: list, bends: dict, half: str, laid: Round) -> Panel:
    spot = lambda p: (round(float(p[0]), 4), round(float(p[1]), 4))  # noqa: E731
    corners = tuple(Corner(at=spot(p), bend=(spot(bends[k][0]), spot(bends[k][1])) if k in bends else None) for k, p in enumerate(points))
    return Panel.model_validate({"name": name, "outline": corners, "half": half, "laid": laid})


def _both(one: str, two: str, edge: int) -> Seam:
    return Seam(one=Side(panel=one, edge=edge), two=Side(panel=two, edge=edge))


Draft = Callable[[Measured, dict[str, float]], Layout]
DRAFTS: dict[str, Draft] = {
    "bodice": _bodice, "tabard": _tabard, "skirt": _skirt, "trousers": _trousers, "cape": _cape, "hood": _hood,
}
"""How each block is drafted from measures and its settings (metres)."""
