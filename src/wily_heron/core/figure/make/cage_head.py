"""The head of the cage: rings from the jaw to the crown, a face with loops round mouth and eyes, ears of their own."""

import numpy as np

from ..cage_grid import Cage, Point, cap, grid_ring, mirrored, to_disc
from .body_field import HEAD

HEAD_CENTRE = np.array([0.0, 1.585, 0.0])

_LEVELS = [  # front y, back y, half width, front z, back z
    (1.474, 1.532, .050, .052, -.070), (1.482, 1.545, .048, .078, -.085), (1.502, 1.560, .060, .088, -.095),
    (1.521, 1.570, .064, .090, -.100), (1.541, 1.580, .068, .092, -.103), (1.560, 1.590, .070, .096, -.105),
    (1.580, 1.602, .072, .094, -.105), (1.597, 1.614, .073, .092, -.105), (1.614, 1.628, .074, .094, -.104),
    (1.636, 1.645, .073, .092, -.101), (1.662, 1.666, .068, .080, -.088), (1.682, 1.684, .052, .056, -.066),
]
_CHIN, _BROW = 1, 10
"""The face lies between these rings, in front."""
_EAR = (3, 7)
"""The ears grow from the side between these rings."""


def build_head(cage: Cage, ring: list[int]) -> None:
    """Add the head on top of the neck's last ring of 16 vertices."""
    rings = []
    for front, back, w, zf, zb in _LEVELS:
        new = []
        for a, b in grid_ring(4, 4):
            u, x = to_disc(a, b)
            t = (u + 1) / 2
            new.append(cage.add((w * x, back + (front - back) * t, zb + (zf - zb) * t), "head", front,
                                int(np.sign(round(x, 9))), HEAD))
        step = len(rings)
        skip: set[int] = set()
        if _CHIN < step <= _BROW:
            skip |= {4, 5, 6, 7}
        if _EAR[0] < step <= _EAR[1]:
            skip |= {10, 1}
        cage.bridge(ring, new, skip=frozenset(skip), halves=(frozenset(range(2, 10)), "face", "back of head"))
        rings.append(new)
        ring = new

    def crown(a: float, b: float) -> Point:
        u, x = to_disc(a, b)
        return np.array([.050 * x, 1.700 - .012 * (x * x + u * u), .060 * u - .006])

    cage.chart = "back of head"
    cap(cage, ring, 4, 4, crown, "head", 1.70, 0, HEAD)
    cage.chart = "face"
    _face(cage, [r[4:9] for r in rings[_CHIN:_BROW + 1]])
    for side in (1, -1):
        front, back = (10, 11) if side > 0 else (2, 1)
        rows = rings[_EAR[0]:_EAR[1] + 1]
        _ear(cage, [r[front] for r in rows], [r[back] for r in rows], side)


_COLUMNS = (-.029, -.0145, 0.0, .0145, .029)
_ROWS = (1.500, 1.514, 1.5284, 1.541, 1.552, 1.566, 1.580, 1.595, 1.610, 1.626)


def _face(cage: Cage, border: list[list[int]]) -> None:
    """Fill the face: two loops inside its border, then a grid whose mouth and eyes get loops of their own."""
    last = len(border) - 1
    inner = {(c, r): _face_vertex(cage, x, y) for c, x in enumerate(_COLUMNS) for r, y in enumerate(_ROWS)}
    loops = [{at: border[at[1]][at[0]] for at in _rim(last)}]
    outer = np.array([cage.points[loops[0][at]][:2] for at in _rim(last)])
    within = np.array([cage.points[inner[at]][:2] for at in _rim(last)])
    middle = 0.52 * within + 0.48 * outer
    loops.append({at: _face_vertex(cage, x, y) for at, (x, y) in zip(_rim(last), middle, strict=True)})
    loops.append({at: inner[at] for at in _rim(last)})
    done: set[frozenset[int]] = set()

    def emit(a: int, b: int, c: int, d: int) -> None:
        if frozenset((a, b, c, d)) not in done:
            done.add(frozenset((a, b, c, d)))
            cage.quad(a, b, c, d, 1)

    ring1 = loops[1]
    _inset(cage, emit, done, [[inner[c, r] for c in range(5)] for r in (1, 2, 3)], 0.30)  # mouth
    _inset(cage, emit, done, [[inner[3, r], inner[4, r], ring1[4, r]] for r in (6, 7, 8)], 0.30)  # eyes
    _inset(cage, emit, done, [[ring1[0, r], inner[0, r], inner[1, r]] for r in (6, 7, 8)], 0.30)
    for c in range(4):
        for r in range(last):
            emit(inner[c, r], inner[c + 1, r], inner[c + 1, r + 1], inner[c, r + 1])
    walk = _rim(last)
    for low, high in ((loops[0], loops[1]), (loops[1], loops[2])):
        for i, at in enumerate(walk):
            after = walk[(i + 1) % len(walk)]
            emit(low[at], low[after], high[after], high[at])


def _rim(last: int) -> list[tuple[int, int]]:
    """The face grid's border, counter-clockwise seen from the front."""
    return ([(c, 0) for c in range(4)] + [(4, r) for r in range(last)]
            + [(c, last) for c in range(4, 0, -1)] + [(0, r) for r in range(last, 0, -1)])


def _face_vertex(cage: Cage, x: float, y: float) -> int:
    z = 0.098 - 9.0 * x * x
    return cage.add((x, y, z), "head", y, int(np.sign(round(x, 9))), HEAD)


def _inset(cage: Cage, emit, done: set[frozenset[int]], block: list[list[int]], pull: float) -> None:
    """Replace a block of face quads (rows of vertices, upwards) by one with a loop just inside its border."""
    rows, columns = len(block), len(block[0])
    middle = np.mean([cage.points[i] for row in block for i in row], axis=0)
    new = [list(row) for row in block]
    for r in range(rows):
        for c in range(columns):
            if r in (0, rows - 1) or c in (0, columns - 1):
                x, y, _ = cage.points[block[r][c]] + pull * (middle - cage.points[block[r][c]])
                new[r][c] = _face_vertex(cage, 0.0 if abs(x) < 1e-9 else x, y)
    for r in range(rows - 1):
        for c in range(columns - 1):
            done.add(frozenset((block[r][c], block[r][c + 1], block[r + 1][c + 1], block[r + 1][c])))
            emit(new[r][c], new[r][c + 1], new[r + 1][c + 1], new[r + 1][c])
    rim = ([(0, c) for c in range(columns - 1)] + [(r, columns - 1) for r in range(rows - 1)]
           + [(rows - 1, c) for c in range(columns - 1, 0, -1)] + [(r, 0) for r in range(rows - 1, 0, -1)])
    for i, (r, c) in enumerate(rim):
        r2, c2 = rim[(i + 1) % len(rim)]
        emit(block[r][c], block[r2][c2], new[r2][c2], new[r][c])


EAR_ROOT = np.array([0.0752, 1.576, -0.021])
_TILT, _FLARE = np.deg2rad(-11.0), np.deg2rad(13.0)
# ear outline from the lobe up the front and down the back: (forwards, upwards, off the head) in metres
_OUTLINE = np.array([
    (.0050, -.0290, .0030), (.0085, -.0130, .0050), (.0070, .0030, .0050), (.0085, .0170, .0050), (.0030, .0290, .0060),
    (-.0145, .0305, .0085), (-.0245, .0180, .0110), (-.0260, .0010, .0110), (-.0205, -.0145, .0095), (-.0090, -.0280, .0060),
])
_EAR_MIDDLE = np.array([-.006, 0.002, .004])
_EAR_RINGS = [  # how far towards the ear's middle, lift off the outline (front of it, back of it)
    (0.20, -.0030, -.0075), (0.00, -.0012, -.0040), (0.03, .0010, .0012), (0.22, -.0005, .0016), (0.44, -.0040, -.0062),
]


def _ear(cage: Cage, front: list[int], back: list[int], side: int) -> None:
    """Grow an ear from a slot in the side of the head: its back, the rim, the bowl."""
    hole = front + back[::-1]
    out = np.array([np.cos(_FLARE), 0.0, np.sin(_FLARE)])  # the ear's face looks outwards and a little ahead
    ahead = np.array([-np.sin(_FLARE), 0.0, np.cos(_FLARE)])
    up = np.array([0.0, 1.0, 0.0])
    ahead, up = np.cos(_TILT) * ahead - np.sin(_TILT) * up, np.sin(_TILT) * ahead + np.cos(_TILT) * up
    ring = hole
    cage.chart = f"ear {side}"
    for pull, lift_front, lift_back in _EAR_RINGS:
        new = []
        for i, spot in enumerate(_OUTLINE):
            f, u, o = spot + pull * (_EAR_MIDDLE - spot)
            o += lift_front if i < 5 else lift_back
            new.append(cage.add(mirrored(EAR_ROOT + f * ahead + u * up + o * out, side), "ear", 1.58, side, HEAD))
        cage.bridge(ring, new, -side)
        ring = new
    for i in range(4):
        cage.quad(ring[i], ring[9 - i], ring[8 - i], ring[i + 1], side)
