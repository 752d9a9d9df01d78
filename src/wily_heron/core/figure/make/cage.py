"""The figure's control cage: tubes of rings glued at rings, all quads, closed, mirror-exact, the same for every shape.

Every vertex carries a part name and a parameter along it, from which the skin weights are read.
"""

from collections.abc import Mapping

import numpy as np

from ..base.landmarks import Landmarks, landmarks
from ..cage_grid import Cage, Point, cap, cap_vertices, grid_ring, mirrored, to_disc
from .body_field import HEAD, LEG, TORSO, finger_chains, foot_frame, toe_chains
from .cage_head import build_head
from .tables import drawing, on_line

_CAGE = drawing("cage")


def build_cage(p: Mapping[str, float]) -> Cage:
    """Return the cage for shape values `p`; its topology and vertex order do not depend on `p`."""
    at, cage = landmarks(p), Cage()
    rings = _trunk(cage)
    top = _neck(cage, rings[-1])
    build_head(cage, top)
    low = at.crotch - _CAGE["crotch"]["drop"]
    middle = [cage.add((0.0, low, z), "pelvis", at.crotch, 0, TORSO | LEG) for z in _CAGE["crotch"]["along"]]
    for side in (1, -1):
        _leg(cage, at, rings[0], middle, side)
        _arm(cage, at, rings[12:15], side)
    _drop_unused(cage)
    _pair(cage)
    return cage


def _drop_unused(cage: Cage) -> None:
    """Forget the ring vertices that lay inside the holes where limbs start."""
    used = sorted({i for quad in cage.quads for i in quad})
    place = {old: new for new, old in enumerate(used)}
    cage.quads = [tuple(place[i] for i in quad) for quad in cage.quads]  # type: ignore[misc]
    cage.cuts = {frozenset(place[i] for i in edge) for edge in cage.cuts if all(i in place for i in edge)}
    for name in ("points", "parts", "along", "sides", "masks"):
        values = getattr(cage, name)
        setattr(cage, name, [values[i] for i in used])


def _trunk(cage: Cage) -> list[list[int]]:
    """Rings of 16 with (a, b) = (z, x), so that a x b points up; the left side is columns 8..11 (b = +1)."""
    trunk, rings = _CAGE["trunk"], []
    for y in trunk["levels"]:
        ring = []
        for a, b in grid_ring(4, 4):
            u, w = to_disc(a, b)
            place = (trunk["half_width"] * w, y, trunk["half_depth"] * u + trunk["forward"])
            ring.append(cage.add(place, "trunk", y, int(np.sign(round(w, 9))), TORSO))
        rings.append(ring)
    for i in range(len(rings) - 1):
        skip = _columns(1) | _columns(-1) if i >= 12 else frozenset()
        cage.bridge(rings[i], rings[i + 1], skip=skip, halves=(frozenset(range(2, 10)), "trunk front", "trunk back"))
    return rings


def _columns(side: int) -> frozenset[int]:
    """The four columns of a trunk ring on one side: b = +1 is walked at steps 8..11, b = -1 at steps 0..3."""
    return frozenset(range(8, 12)) if side > 0 else frozenset(range(0, 4))


def _neck(cage: Cage, ring: list[int]) -> list[int]:
    for y, z, w, d, drop in _CAGE["neck"]["rings"]:
        new = []
        for a, b in grid_ring(4, 4):
            u, x = to_disc(a, b)
            new.append(cage.add((w * x, y - drop * u, z + d * u), "neck", y, int(np.sign(round(x, 9))), TORSO | HEAD))
        cage.chart = "neck"
        cage.bridge(ring, new, cut=14)
        ring = new
    return ring


def _leg(cage: Cage, at: Landmarks, bottom: list[int], middle: list[int], side: int) -> None:
    # the leg's ring runs with (a, b) = (x, z), a x b down: inner back corner first, then outwards along the back
    coordinates = grid_ring(4, 4)
    where = {(round(a * 2), round(b * 2)): i for (a, b), i in zip(coordinates, bottom, strict=True)}
    border = {}
    for index, z in zip(middle, (-1, 0, 1), strict=True):
        border[0, z] = index
    ring = []
    for a, b in grid_ring(2, 4):
        x, z = round(a + 1) * side, round(b * 2)
        ring.append(border[0, z] if (x == 0 and abs(z) < 2) else where[z, x])
    leg, rings = _CAGE["leg"], [ring]
    hip, knee, ankle = at.hip, at.knee, at.ankle
    for y in leg["levels"]:
        r = on_line(leg["radius"], y)
        cx = np.interp(y, [ankle[1], knee[1], hip[1]], [ankle[0], knee[0], hip[0]])
        cz = on_line(leg["forward"], y)
        new = []
        for a, b in grid_ring(2, 4):
            u, w = to_disc(a, b)
            inner = max(cx + r * u, leg["off_midline"])
            new.append(cage.add(mirrored(np.array([inner, y, cz + r * w]), side), "leg", y, side, LEG))
        rings.append(new)
    last = len(rings) - 1
    front = {5, 6, 7, 8}  # columns: outer front side, the two fronts, inner front side
    for i in range(last):
        skip = frozenset(front) if i >= last - 2 else frozenset()
        cage.chart = f"{'foot top' if i >= last - 3 else 'leg'} {side}"
        cage.bridge(rings[i], rings[i + 1], side, skip, cut=1 if i >= last - 3 else 10)
    heel = _CAGE["heel"]

    def under(a: float, b: float) -> Point:
        place = np.array([ankle[0] + heel["half_width"] * a, heel["height"], heel["forward"] + heel["half_depth"] * b])
        return mirrored(place, side)

    cage.chart = f"sole {side}"
    cap(cage, rings[-1], 2, 4, under, "foot", 0.0, side, LEG)
    _foot(cage, at, rings[-3:], side)


def _foot(cage: Cage, at: Landmarks, rings: list[list[int]], side: int) -> None:
    # the hole's border, with (a, b) = (x across, height) and a x b forward: from the inner bottom outwards
    top, mid, low = rings
    columns = [9, 8, 7, 6, 5]  # inner side, inner front corner, front middle, outer front corner, outer side
    ring = [low[c] for c in columns] + [mid[5]] + [top[c] for c in reversed(columns)] + [mid[9]]
    heel, axis, across = foot_frame(at)
    foot, hole = _CAGE["foot"], list[int]()
    begin, end = foot["toed"]
    for step, (reach, w, h) in enumerate(foot["rings"]):
        new = []
        for a, b in grid_ring(4, 2):
            u, t = to_disc(a, b)
            toed = np.interp(reach, [begin, end], [0.0, 1.0])
            ahead = reach + toed * (on_line(foot["web"], a) - end)
            side_way = (1 - toed) * w * u + toed * on_line(foot["between_toes"], a)
            point = heel + ahead * axis + side_way * across + np.array([0, h * (1 + t), 0])
            new.append(cage.add(mirrored(point, side), "foot", reach, side, LEG))
        little = frozenset({4, 5}) if step == len(foot["rings"]) - 1 else frozenset()
        cage.bridge(ring, new, side, little, halves=(frozenset(range(4)), f"sole {side}", f"foot top {side}"))
        if little:
            hole = [ring[4], ring[5], ring[6], new[6], new[5], new[4]]
        ring = new

    def web(a: float, b: float) -> Point:
        ahead, side_way = on_line(foot["web"], a) + foot["web_forward"], on_line(foot["between_toes"], a)
        return mirrored(heel + ahead * axis + side_way * across + np.array([0, foot["web_height"], 0]), side)

    last = cap_vertices(cage, ring, 4, 2, web, "foot", end, side, LEG)
    for k, chain in enumerate(toe_chains(at)):
        between = [last[k, 0], last[k + 1, 0], last[k + 1, 1], last[k + 1, 2], last[k, 2], last[k, 1]] if k < 4 else hole
        _toe(cage, between, chain, k, side, across)


def _toe(cage: Cage, ring: list[int], chain, toe: int, side: int, across: Point) -> None:
    points, radii = chain
    bone = points[1] - points[0]
    drawn, rings = _CAGE["toe"], []
    for step, (u, beyond, squeeze) in enumerate(drawn["rings"]):
        u = drawn["little"] if toe == 4 and not step else u
        at = points[0] + (u + beyond * radii[1] / np.linalg.norm(bone)) * bone
        rings.append(_hexagon(at, (radii[0] + u * (radii[1] - radii[0])) * squeeze, across, np.array([0.0, 1.0, 0.0])))
    _digit(cage, ring, rings, f"toe{toe}", [drawn["along"]] * 3, side, (f"sole {side}", f"foot top {side}"))


_SHRINK = 6 / 5
"""A hexagon's corners shrink to 5/6 of their radius as the cage is refined."""


def _hexagon(at: Point, radius: float, a_dir: Point, b_dir: Point) -> list[Point]:
    return [at + _SHRINK * radius * (a * a_dir + b * b_dir) for a, b in _CAGE["hexagon"]["corners"]]


def _digit(cage: Cage, hole: list[int], rings: list[list[Point]], part: str, along: list[float], side: int,
           charts: tuple[str, str]) -> None:
    """Grow a finger or toe of six columns from a hole, turned so that its columns meet the hole's with least twist."""
    here = [mirrored(cage.points[i], side) for i in hole]
    start = min(range(6), key=lambda k: sum(np.linalg.norm(here[(k + i) % 6] - rings[0][i]) for i in range(6)))
    ring = [hole[(start + i) % 6] for i in range(6)]
    for u, new in zip(along, rings, strict=True):
        added = [cage.add(mirrored(x, side), part, u, side) for x in new]
        cage.bridge(ring, added, side, halves=(frozenset((0, 1, 5)), *charts))
        ring = added
    cage.chart = charts[0]
    cage.quad(ring[0], ring[1], ring[2], ring[5], side)
    cage.chart = charts[1]
    cage.quad(ring[5], ring[2], ring[3], ring[4], side)


def _arm(cage: Cage, at: Landmarks, rings: list[list[int]], side: int) -> None:
    # the hole's border with (a, b) = (z, down), a x b outwards: from the back top forwards
    low, mid, top = rings
    columns = [12, 11, 10, 9, 8] if side > 0 else [0, 1, 2, 3, 4]  # b = +1 is walked from front to back
    ring = ([top[c] for c in columns] + [mid[columns[-1]]] + [low[c] for c in reversed(columns)] + [mid[columns[0]]])
    arm, forward = _CAGE["arm"], np.array([0.0, 0.0, 1.0])
    for u in arm["levels"]:
        r, flat = on_line(arm["radius"], u), on_line(arm["flat"], u)
        centre = at.shoulder + u * at.arm + on_line(arm["forward"], u) * forward
        new = []
        for a, b in grid_ring(4, 2):
            x, y = to_disc(a, b)
            lean = arm["lean_by"] * y * on_line(arm["lean"], u)
            point = centre + r * x * forward - r * flat * y * at.palm + lean * at.arm
            new.append(cage.add(mirrored(point, side), "arm", u, side, 15))
        cage.chart = f"arm {side}"
        cage.bridge(ring, new, side, cut=8)
        ring = new
    _hand(cage, at, ring, side)


def _hand(cage: Cage, at: Landmarks, ring: list[int], side: int) -> None:
    hand, forward = _CAGE["hand"], np.array([0.0, 0.0, 1.0])
    chains = finger_chains(at)
    w = at.wrist
    (wide, deep), (wide_square, deep_square) = hand["round"], hand["square"]
    hole: list[int] = []
    for step, (u, half, thick, bowed) in enumerate(hand["rings"]):
        new = []
        for a, b in grid_ring(4, 2):
            x, y = to_disc(a, b)
            ahead = (u - bowed * x * x) * at.arm
            point = w + ahead + half * (wide * x + wide_square * a) * forward - thick * (deep * y + deep_square * b) * at.palm
            new.append(cage.add(mirrored(point, side), "palm", u, side, 15))
        thumb = frozenset({4, 5}) if step == 1 else frozenset()  # the two front columns between the first palm rings
        cage.bridge(ring, new, side, thumb, halves=(frozenset((0, 1, 2, 3, 4, 11)), f"back of hand {side}", f"palm {side}"))
        if step == 1:
            hole = [ring[4], ring[5], ring[6], new[6], new[5], new[4]]
        ring = new

    def knuckles(a: float, b: float) -> Point:
        ahead = hand["end"] - hand["end_bow"] * a * a
        return mirrored(w + ahead * at.arm + hand["end_half_width"] * a * forward, side)

    end = cap_vertices(cage, ring, 4, 2, knuckles, "palm", hand["end_along"], side, 15)
    for k in range(4):  # column k runs from the little finger (back, a = -1) to the index (front)
        finger = 4 - k
        ring6 = [end[k, 0], end[k + 1, 0], end[k + 1, 1], end[k + 1, 2], end[k, 2], end[k, 1]]
        _finger(cage, ring6, chains[finger], finger, side, forward)
    _finger(cage, hole, chains[0], 0, side, -at.arm)


def _finger(cage: Cage, hole: list[int], chain, finger: int, side: int, across: Point) -> None:
    points, radii = chain
    lengths = np.linalg.norm(np.diff(points, axis=0), axis=1)
    ends = np.concatenate([[0.0], np.cumsum(lengths)])
    drawn, rings = _CAGE["finger"], []
    stops = [ends[joint] + past for joint, past in drawn["rings" if finger else "thumb_rings"]]
    stops.append(ends[3] + drawn["past_tip"] * radii[3])
    for u in stops:
        i = int(np.clip(np.searchsorted(ends, u) - 1, 0, 2))
        axis = (points[i + 1] - points[i]) / lengths[i]
        a_dir = across - (across @ axis) * axis
        a_dir /= np.linalg.norm(a_dir)
        r = np.interp(u, ends, radii) * (drawn["tip_share"] if u > ends[3] else drawn["first_share"] if u == stops[0] else 1.0)
        rings.append(_hexagon(points[i] + (u - ends[i]) * axis, r, a_dir, np.cross(axis, a_dir)))
    _digit(cage, hole, rings, f"finger{finger}", stops, side, (f"back of hand {side}", f"palm {side}"))


def _pair(cage: Cage) -> None:
    points = np.round(np.array(cage.points), 9) + 0.0
    index = {tuple(p): i for i, p in enumerate(points)}
    for i, p in enumerate(points):
        cage.mirror[i] = index[(-p[0] + 0.0, p[1], p[2])]
