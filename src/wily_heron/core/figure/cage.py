"""The figure's control cage: tubes of rings glued at rings, all quads, closed, mirror-exact, the same for every shape.

Every vertex carries a part name and a parameter along it, from which the skin weights are read.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import numpy as np

from .body_field import HEAD, LEG, TORSO, finger_chains
from .landmarks import Landmarks, landmarks

Point = np.ndarray


@dataclass
class Cage:
    """Vertices `(n, 3)`, quads `(m, 4)`, and per vertex: part, parameter (metres along the part), side, rays to trust."""

    points: list[Point] = field(default_factory=list)
    quads: list[tuple[int, int, int, int]] = field(default_factory=list)
    parts: list[str] = field(default_factory=list)
    along: list[float] = field(default_factory=list)
    sides: list[int] = field(default_factory=list)
    masks: list[int] = field(default_factory=list)
    mirror: dict[int, int] = field(default_factory=dict)

    def add(self, point: Point | tuple[float, float, float], part: str, along: float, side: int = 0, mask: int = 15) -> int:
        """Append a vertex and return its index."""
        self.points.append(np.array(point, float))
        self.parts.append(part)
        self.along.append(along)
        self.sides.append(side)
        self.masks.append(mask)
        return len(self.points) - 1

    def quad(self, a: int, b: int, c: int, d: int, side: int) -> None:
        """Append a face; `side` -1 turns it over (the right half is built from mirrored rings)."""
        self.quads.append((a, b, c, d) if side >= 0 else (d, c, b, a))

    def bridge(self, low: list[int], high: list[int], side: int = 1, skip: frozenset[int] = frozenset()) -> None:
        """Close the band between two rings of equal length, leaving out the columns in `skip`."""
        n = len(low)
        for i in range(n):
            if i not in skip:
                j = (i + 1) % n
                self.quad(low[i], low[j], high[j], high[i], side)


def grid_ring(na: int, nb: int) -> list[tuple[float, float]]:
    """Return the border of an `na` x `nb` grid on [-1, 1]^2, counter-clockwise from (-1, -1)."""
    a, b = np.linspace(-1, 1, na + 1), np.linspace(-1, 1, nb + 1)
    return ([(x, -1.0) for x in a[:-1]] + [(1.0, y) for y in b[:-1]]
            + [(x, 1.0) for x in a[:0:-1]] + [(-1.0, y) for y in b[:0:-1]])


def to_disc(a: float, b: float) -> tuple[float, float]:
    """Map the square [-1, 1]^2 onto the unit disc, borders to the circle."""
    return a * np.sqrt(1 - b * b / 2), b * np.sqrt(1 - a * a / 2)


def _cap(cage: Cage, ring: list[int], na: int, nb: int, lift: Callable[[float, float], Point], part: str, along: float,
         side: int, mask: int) -> dict[tuple[int, int], int]:
    """Close a ring with an `na` x `nb` grid of quads; `lift(a, b)` places inner vertices. Returns the grid of vertices."""
    grid = _cap_vertices(cage, ring, na, nb, lift, part, along, side, mask)
    for i in range(na):
        for j in range(nb):
            cage.quad(grid[i, j], grid[i + 1, j], grid[i + 1, j + 1], grid[i, j + 1], side or 1)
    return grid


def _cap_vertices(cage, ring, na, nb, lift, part, along, side, mask) -> dict[tuple[int, int], int]:
    grid: dict[tuple[int, int], int] = {}
    for index, (a, b) in zip(ring, grid_ring(na, nb), strict=True):
        grid[round((a + 1) * na / 2), round((b + 1) * nb / 2)] = index
    for i in range(1, na):
        for j in range(1, nb):
            a, b = 2 * i / na - 1, 2 * j / nb - 1
            grid[i, j] = cage.add(lift(a, b), part, along, side, mask)
    return grid


def build_cage(p: Mapping[str, float]) -> Cage:
    """Return the cage for shape values `p`; its topology and vertex order do not depend on `p`."""
    at, cage = landmarks(p), Cage()
    rings = _trunk(cage)
    top = _neck(cage, rings[-1])
    _head(cage, top)
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
        cage.bridge(rings[i], rings[i + 1], skip=skip)
    return rings


def _columns(side: int) -> frozenset[int]:
    """The four columns of a trunk ring on one side: b = +1 is walked at steps 8..11, b = -1 at steps 0..3."""
    return frozenset(range(8, 12)) if side > 0 else frozenset(range(0, 4))


def _neck(cage: Cage, ring: list[int]) -> list[int]:
    levels = [  # centre y, centre z, half width, half depth, front drop
        (1.432, -.026, .082, .056, .010), (1.452, -.024, .062, .052, .012), (1.476, -.018, .056, .054, .010),
        (1.498, -.010, .054, .055, -.002),
    ]
    for y, z, w, d, drop in levels:
        new = []
        for a, b in grid_ring(4, 4):
            u, x = to_disc(a, b)
            new.append(cage.add((w * x, y - drop * u, z + d * u), "neck", y, int(np.sign(round(x, 9))), TORSO | HEAD))
        cage.bridge(ring, new)
        ring = new
    return ring


HEAD_CENTRE = np.array([0.0, 1.585, 0.0])


def _head(cage: Cage, ring: list[int]) -> None:
    levels = [  # front y, back y, half width, front z, back z
        (1.474, 1.532, .050, .052, -.070), (1.482, 1.545, .048, .078, -.085), (1.502, 1.560, .060, .088, -.095),
        (1.521, 1.570, .064, .090, -.100), (1.541, 1.580, .068, .092, -.103), (1.560, 1.590, .070, .096, -.105),
        (1.580, 1.602, .072, .094, -.105), (1.597, 1.614, .073, .092, -.105), (1.614, 1.628, .074, .094, -.104),
        (1.636, 1.645, .073, .092, -.101), (1.662, 1.666, .068, .080, -.088), (1.682, 1.684, .052, .056, -.066),
    ]
    for front, back, w, zf, zb in levels:
        new = []
        for a, b in grid_ring(4, 4):
            u, x = to_disc(a, b)
            t = (u + 1) / 2
            new.append(cage.add((w * x, back + (front - back) * t, zb + (zf - zb) * t), "head", front,
                                int(np.sign(round(x, 9))), HEAD))
        cage.bridge(ring, new)
        ring = new

    def crown(a: float, b: float) -> Point:
        u, x = to_disc(a, b)
        return np.array([.050 * x, 1.700 - .012 * (x * x + u * u), .060 * u - .006])

    _cap(cage, ring, 4, 4, crown, "head", 1.70, 0, HEAD)


def _mirrored(point: Point, side: int) -> Point:
    return point if side > 0 else point * np.array([-1.0, 1.0, 1.0])


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
            new.append(cage.add(_mirrored(np.array([cx + r * u, y, cz + r * w]), side), "leg", y, side, LEG))
        rings.append(new)
    last = len(rings) - 1
    front = {5, 6, 7, 8}  # columns: outer front side, the two fronts, inner front side
    for i in range(last):
        skip = frozenset(front) if i >= last - 2 else frozenset()
        cage.bridge(rings[i], rings[i + 1], side, skip)
    sole = rings[-1]
    _cap(cage, sole, 2, 4,
         lambda a, b: _mirrored(np.array([ankle[0] + .03 * a, .004, -.035 + .036 * b]), side), "foot", 0.0, side, LEG)
    _foot(cage, at, rings[-3:], side)


def _foot(cage: Cage, at: Landmarks, rings: list[list[int]], side: int) -> None:
    # the hole's border, with (a, b) = (x across, height) and a x b forward: from the inner bottom outwards
    top, mid, low = rings
    columns = [9, 8, 7, 6, 5]  # inner side, inner front corner, front middle, outer front corner, outer side
    ring = [low[c] for c in columns] + [mid[5]] + [top[c] for c in reversed(columns)] + [mid[9]]
    turn = np.deg2rad(8.0)
    axis, across = np.array([np.sin(turn), 0, np.cos(turn)]), np.array([np.cos(turn), 0, -np.sin(turn)])
    heel = np.array([at.ankle[0] - .006, 0.0, at.ankle[2] - .052])
    levels = [(.085, .034, .052), (.112, .035, .044), (.138, .038, .035), (.162, .041, .028), (.184, .043, .023),
              (.204, .042, .019), (.222, .039, .016), (.236, .032, .013)]
    for reach, w, h in levels:
        new = []
        for a, b in grid_ring(4, 2):
            u, t = to_disc(a, b)
            skew = -.020 * (reach - .16) / .07 * max(u, 0) if reach > .16 else 0.0
            point = heel + (reach + skew) * axis + (w * u - (.006 if reach > .21 else 0)) * across + np.array([0, h * (1 + t), 0])
            new.append(cage.add(_mirrored(point, side), "foot", reach, side, LEG))
        cage.bridge(ring, new, side)
        ring = new

    def toe(a: float, b: float) -> Point:
        return _mirrored(heel + (.244 - .018 * max(a, 0)) * axis + (.030 * a - .008) * across + np.array([0, .012, 0]), side)

    _cap(cage, ring, 4, 2, toe, "foot", .246, side, LEG)


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
            new.append(cage.add(_mirrored(point, side), "arm", u, side, 15))
        cage.bridge(ring, new, side)
        ring = new
    _hand(cage, at, ring, side)


def _hand(cage: Cage, at: Landmarks, ring: list[int], side: int) -> None:
    forward = np.array([0.0, 0.0, 1.0])
    chains = finger_chains(at)
    w = at.wrist
    for step, (u, half, thick) in enumerate([(.014, .029, .017), (.036, .034, .017), (.060, .037, .015), (.082, .038, .013)]):
        new = []
        for a, b in grid_ring(4, 2):
            x, y = to_disc(a, b)
            bow = -.008 * x * x if u > .07 else 0.0
            point = w + (u + bow) * at.arm + half * (0.35 * x + 0.65 * a) * forward - thick * (.4 * y + .6 * b) * at.palm
            new.append(cage.add(_mirrored(point, side), "palm", u, side, 15))
        thumb = frozenset({4, 5}) if step == 1 else frozenset()  # the two front columns between the first palm rings
        cage.bridge(ring, new, side, thumb)
        if step == 1:
            hole = [ring[4], ring[5], ring[6], new[6], new[5], new[4]]
        ring = new
    end = _cap_vertices(cage, ring, 4, 2, lambda a, b: _mirrored(
        w + (.086 - .008 * a * a) * at.arm + .036 * a * forward, side), "palm", .09, side, 15)
    for k in range(4):  # column k runs from the little finger (back, a = -1) to the index (front)
        finger = 4 - k
        ring6 = [end[k, 0], end[k + 1, 0], end[k + 1, 1], end[k + 1, 2], end[k, 2], end[k, 1]]
        _finger(cage, at, ring6, chains[finger], finger, side, forward)
    # the thumb's ring starts at the top near the wrist; a runs along the arm, b down
    hole = [hole[0], hole[5], hole[4], hole[3], hole[2], hole[1]]
    thumb_ring = [hole[1], hole[0], hole[5], hole[4], hole[3], hole[2]]
    _finger(cage, at, thumb_ring, chains[0], 0, side, -at.arm)


def _finger(cage: Cage, at: Landmarks, ring: list[int], chain, finger: int, side: int, across: Point) -> None:
    points, radii = chain
    lengths = np.linalg.norm(np.diff(points, axis=0), axis=1)
    ends = np.concatenate([[0.0], np.cumsum(lengths)])
    if finger == 0:
        stops = [.022, ends[1] - .008, ends[1], ends[1] + .009, ends[2] - .007, ends[2], ends[2] + .008, ends[3] - .002]
    else:
        stops = [.010, ends[1] - .008, ends[1], ends[1] + .007, ends[2] - .006, ends[2], ends[2] + .006, ends[3] - .002]
    for u in stops:
        i = int(np.clip(np.searchsorted(ends, u) - 1, 0, 2))
        centre = points[i] + (u - ends[i]) / lengths[i] * (points[i + 1] - points[i])
        r = np.interp(u, ends, radii)
        axis = (points[i + 1] - points[i]) / lengths[i]
        a_dir = across - (across @ axis) * axis
        a_dir /= np.linalg.norm(a_dir)
        b_dir = np.cross(axis, a_dir)
        new = []
        for a, b in [(-.6, -.8), (.6, -.8), (1, 0), (.6, .8), (-.6, .8), (-1, 0)]:
            new.append(cage.add(_mirrored(centre + r * (a * a_dir + b * b_dir), side), f"finger{finger}", u, side, 15))
        cage.bridge(ring, new, side)
        ring = new
    cage.quad(ring[0], ring[1], ring[2], ring[5], side)
    cage.quad(ring[5], ring[2], ring[3], ring[4], side)


def _pair(cage: Cage) -> None:
    points = np.round(np.array(cage.points), 9) + 0.0
    index = {tuple(p): i for i, p in enumerate(points)}
    for i, p in enumerate(points):
        cage.mirror[i] = index[(-p[0] + 0.0, p[1], p[2])]
