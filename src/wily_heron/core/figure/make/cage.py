"""The figure's control cage: tubes of rings glued at rings, all quads, closed, mirror-exact, the same for every shape.

Every vertex carries a part name and a parameter along it, from which the skin weights are read.
"""

from collections.abc import Mapping

import numpy as np

from ..base.landmarks import Landmarks, landmarks
from ..cage_grid import Cage, Point, cap, cap_vertices, grid_ring, mirrored, to_disc
from .body_field import HEAD, LEG, TORSO, finger_chains, foot_frame, toe_chains
from .cage_head import build_head


def build_cage(p: Mapping[str, float]) -> Cage:
    """Return the cage for shape values `p`; its topology and vertex order do not depend on `p`."""
    at, cage = landmarks(p), Cage()
    rings = _trunk(cage)
    top = _neck(cage, rings[-1])
    build_head(cage, top)
    middle = [cage.add((0.0, at.crotch - 0.004, z), "pelvis", at.crotch, 0, TORSO | LEG) for z in (-0.035, 0.0, 0.035)]
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


_TRUNK = [.838, .872, .908, .944, .980, 1.015, 1.050, 1.085, 1.122, 1.160, 1.198, 1.238, 1.282, 1.340, 1.398]


def _trunk(cage: Cage) -> list[list[int]]:
    """Rings of 16 with (a, b) = (z, x), so that a x b points up; the left side is columns 8..11 (b = +1)."""
    rings = []
    for y in _TRUNK:
        ring = []
        for a, b in grid_ring(4, 4):
            u, w = to_disc(a, b)
            ring.append(cage.add((0.16 * w, y, 0.11 * u - 0.01), "trunk", y, int(np.sign(round(w, 9))), TORSO))
        rings.append(ring)
    for i in range(len(rings) - 1):
        skip = _columns(1) | _columns(-1) if i >= 12 else frozenset()
        cage.bridge(rings[i], rings[i + 1], skip=skip, halves=(frozenset(range(2, 10)), "trunk front", "trunk back"))
    return rings


def _columns(side: int) -> frozenset[int]:
    """The four columns of a trunk ring on one side: b = +1 is walked at steps 8..11, b = -1 at steps 0..3."""
    return frozenset(range(8, 12)) if side > 0 else frozenset(range(0, 4))


def _neck(cage: Cage, ring: list[int]) -> list[int]:
    levels = [  # centre y, centre z, half width, half depth, front drop
        (1.432, -.026, .082, .056, .010), (1.452, -.024, .062, .052, .012), (1.476, -.018, .056, .054, .012),
        (1.498, -.010, .054, .055, .018),
    ]
    for y, z, w, d, drop in levels:
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
    levels = [.770, .720, .660, .600, .555, .520, .496, .474, .452, .428, .395, .350, .300, .245, .190, .140, .104, .070, .030]
    rings = [ring]
    hip, knee, ankle = at.hip, at.knee, at.ankle
    for y in levels:
        r = np.interp(y, [.05, .11, .20, .33, .474, .60, .77], [.034, .034, .042, .056, .052, .066, .080])
        cx = np.interp(y, [ankle[1], knee[1], hip[1]], [ankle[0], knee[0], hip[0]])
        cz = np.interp(y, [.05, .20, .35, .474, .60, .77], [-.026, -.022, -.016, 0, .004, .002])
        new = []
        for a, b in grid_ring(2, 4):
            u, w = to_disc(a, b)
            inner = max(cx + r * u, 0.007)  # the thighs' rings never cross the midline
            new.append(cage.add(mirrored(np.array([inner, y, cz + r * w]), side), "leg", y, side, LEG))
        rings.append(new)
    last = len(rings) - 1
    front = {5, 6, 7, 8}  # columns: outer front side, the two fronts, inner front side
    for i in range(last):
        skip = frozenset(front) if i >= last - 2 else frozenset()
        cage.chart = f"{'foot top' if i >= last - 3 else 'leg'} {side}"
        cage.bridge(rings[i], rings[i + 1], side, skip, cut=1 if i >= last - 3 else 10)
    sole = rings[-1]
    cage.chart = f"sole {side}"
    cap(cage, sole, 2, 4,
         lambda a, b: mirrored(np.array([ankle[0] + .03 * a, .004, -.035 + .036 * b]), side), "foot", 0.0, side, LEG)
    _foot(cage, at, rings[-3:], side)


def _foot(cage: Cage, at: Landmarks, rings: list[list[int]], side: int) -> None:
    # the hole's border, with (a, b) = (x across, height) and a x b forward: from the inner bottom outwards
    top, mid, low = rings
    columns = [9, 8, 7, 6, 5]  # inner side, inner front corner, front middle, outer front corner, outer side
    ring = [low[c] for c in columns] + [mid[5]] + [top[c] for c in reversed(columns)] + [mid[9]]
    heel, axis, across = foot_frame(at)
    levels = [(.085, .034, .052), (.112, .035, .044), (.138, .038, .035), (.160, .041, .028), (.178, .0425, .023),
              (.200, .0420, .0205)]
    hole: list[int] = []
    for step, (reach, w, h) in enumerate(levels):
        new = []
        for a, b in grid_ring(4, 2):
            u, t = to_disc(a, b)
            toed = np.interp(reach, [.138, .200], [0.0, 1.0])
            ahead = reach + toed * (_web(a) - .200)
            side_way = (1 - toed) * w * u + toed * _between_toes(a)
            point = heel + ahead * axis + side_way * across + np.array([0, h * (1 + t), 0])
            new.append(cage.add(mirrored(point, side), "foot", reach, side, LEG))
        little = frozenset({4, 5}) if step == len(levels) - 1 else frozenset()
        cage.bridge(ring, new, side, little, halves=(frozenset(range(4)), f"sole {side}", f"foot top {side}"))
        if little:
            hole = [ring[4], ring[5], ring[6], new[6], new[5], new[4]]
        ring = new

    def web(a: float, b: float) -> Point:
        return mirrored(heel + (_web(a) + .003) * axis + _between_toes(a) * across + np.array([0, .0155, 0]), side)

    end = cap_vertices(cage, ring, 4, 2, web, "foot", .200, side, LEG)
    for k, chain in enumerate(toe_chains(at)):
        between = [end[k, 0], end[k + 1, 0], end[k + 1, 1], end[k + 1, 2], end[k, 2], end[k, 1]] if k < 4 else hole
        _toe(cage, between, chain, k, side, across)


def _between_toes(a: float) -> float:
    """Return where the foot's columns end, across it: between the roots of two toes."""
    return float(np.interp(a, [-1.0, -.5, 0.0, .5, 1.0], [-.0410, -.0158, .0008, .0162, .0308]))


def _web(a: float) -> float:
    """Return how far along the foot the webs between the toes lie."""
    return float(np.interp(a, [-1.0, -.5, 0.0, .5, 1.0], [.2020, .2060, .2050, .1980, .1870]))


def _toe(cage: Cage, ring: list[int], chain, toe: int, side: int, across: Point) -> None:
    points, radii = chain
    bone = points[1] - points[0]
    rings = []
    for u, beyond, squeeze in ((.50 if toe == 4 else .38, 0.0, 0.95), (.86, 0.0, 1.0), (1.0, 0.75, .70)):
        at = points[0] + (u + beyond * radii[1] / np.linalg.norm(bone)) * bone
        rings.append(_hexagon(at, (radii[0] + u * (radii[1] - radii[0])) * squeeze, across, np.array([0.0, 1.0, 0.0])))
    _digit(cage, ring, rings, f"toe{toe}", [.21] * 3, side, (f"sole {side}", f"foot top {side}"))


_HEXAGON = [(-.6, -.8), (.6, -.8), (1, 0), (.6, .8), (-.6, .8), (-1, 0)]
_SHRINK = 6 / 5
"""A hexagon's corners shrink to 5/6 of their radius as the cage is refined."""


def _hexagon(at: Point, radius: float, a_dir: Point, b_dir: Point) -> list[Point]:
    return [at + _SHRINK * radius * (a * a_dir + b * b_dir) for a, b in _HEXAGON]


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
    levels = [.052, .085, .125, .165, .205, .238, .262, .282, .302, .326, .356, .395, .435, .475, .505, .524]
    forward = np.array([0.0, 0.0, 1.0])
    for u in levels:
        r = np.interp(u, [.0, .05, .13, .28, .34, .44, .53], [.050, .048, .043, .037, .039, .031, .024])
        flat = np.interp(u, [.35, .53], [1.0, 0.68])
        centre = at.shoulder + u * at.arm + np.interp(u, [.28, .53], [0, .012]) * forward
        new = []
        for a, b in grid_ring(4, 2):
            x, y = to_disc(a, b)
            lean = 0.030 * y * np.interp(u, [.05, .16], [1.0, 0.0])  # tilt the first rings towards the armpit
            point = centre + r * x * forward - r * flat * y * at.palm + lean * at.arm
            new.append(cage.add(mirrored(point, side), "arm", u, side, 15))
        cage.chart = f"arm {side}"
        cage.bridge(ring, new, side, cut=8)
        ring = new
    _hand(cage, at, ring, side)


def _hand(cage: Cage, at: Landmarks, ring: list[int], side: int) -> None:
    forward = np.array([0.0, 0.0, 1.0])
    chains = finger_chains(at)
    w = at.wrist
    hole: list[int] = []
    for step, (u, half, thick) in enumerate([(.014, .0315, .0205), (.036, .0370, .0210), (.060, .0405, .0190), (.082, .0410, .0165)]):
        new = []
        for a, b in grid_ring(4, 2):
            x, y = to_disc(a, b)
            bow = -.008 * x * x if u > .07 else 0.0
            point = w + (u + bow) * at.arm + half * (0.35 * x + 0.65 * a) * forward - thick * (.4 * y + .6 * b) * at.palm
            new.append(cage.add(mirrored(point, side), "palm", u, side, 15))
        thumb = frozenset({4, 5}) if step == 1 else frozenset()  # the two front columns between the first palm rings
        cage.bridge(ring, new, side, thumb, halves=(frozenset((0, 1, 2, 3, 4, 11)), f"back of hand {side}", f"palm {side}"))
        if step == 1:
            hole = [ring[4], ring[5], ring[6], new[6], new[5], new[4]]
        ring = new
    end = cap_vertices(cage, ring, 4, 2, lambda a, b: mirrored(
        w + (.086 - .008 * a * a) * at.arm + .036 * a * forward, side), "palm", .09, side, 15)
    for k in range(4):  # column k runs from the little finger (back, a = -1) to the index (front)
        finger = 4 - k
        ring6 = [end[k, 0], end[k + 1, 0], end[k + 1, 1], end[k + 1, 2], end[k, 2], end[k, 1]]
        _finger(cage, ring6, chains[finger], finger, side, forward)
    _finger(cage, hole, chains[0], 0, side, -at.arm)


def _finger(cage: Cage, hole: list[int], chain, finger: int, side: int, across: Point) -> None:
    points, radii = chain
    lengths = np.linalg.norm(np.diff(points, axis=0), axis=1)
    ends = np.concatenate([[0.0], np.cumsum(lengths)])
    stops = [.038, ends[1] + .004, ends[1] + .012, ends[2] - .007, ends[2], ends[2] + .008, ends[3], ends[3] + .85 * radii[3]]
    if finger:
        stops = [.011, ends[1] - .008, ends[1], ends[1] + .008, ends[2] - .006, ends[2], ends[2] + .006, ends[3],
                 ends[3] + .85 * radii[3]]
    rings = []
    for u in stops:
        i = int(np.clip(np.searchsorted(ends, u) - 1, 0, 2))
        axis = (points[i + 1] - points[i]) / lengths[i]
        a_dir = across - (across @ axis) * axis
        a_dir /= np.linalg.norm(a_dir)
        r = np.interp(u, ends, radii) * (.64 if u > ends[3] else .88 if u == stops[0] else 1.0)
        rings.append(_hexagon(points[i] + (u - ends[i]) * axis, r, a_dir, np.cross(axis, a_dir)))
    _digit(cage, hole, rings, f"finger{finger}", stops, side, (f"back of hand {side}", f"palm {side}"))


def _pair(cage: Cage) -> None:
    points = np.round(np.array(cage.points), 9) + 0.0
    index = {tuple(p): i for i, p in enumerate(points)}
    for i, p in enumerate(points):
        cage.mirror[i] = index[(-p[0] + 0.0, p[1], p[2])]
