"""The head of the cage: rings from the jaw to the crown, a face with loops round mouth and eyes, ears of their own."""

import numpy as np

from ..cage_grid import Cage, Point, cap, grid_ring, mirrored, to_disc
from .body_field import HEAD
from .tables import drawing

HEAD_CENTRE = np.array([0.0, 1.585, 0.0])

_HEAD = drawing("head")
_SKULL, _FACE, _EAR = _HEAD["skull"], _HEAD["face"], _HEAD["ear"]


def build_head(cage: Cage, ring: list[int]) -> None:
    """Add the head on top of the neck's last ring of 16 vertices."""
    chin, brow, (low, high) = _SKULL["chin"], _SKULL["brow"], _SKULL["ears"]
    rings = []
    for front, back, w, zf, zb in _SKULL["rings"]:
        new = []
        for a, b in grid_ring(4, 4):
            u, x = to_disc(a, b)
            t = (u + 1) / 2
            new.append(cage.add((w * x, back + (front - back) * t, zb + (zf - zb) * t), "head", front,
                                int(np.sign(round(x, 9))), HEAD))
        step = len(rings)
        skip: set[int] = set()
        if chin < step <= brow:
            skip |= {4, 5, 6, 7}
        if low < step <= high:
            skip |= {10, 1}
        cage.bridge(ring, new, skip=frozenset(skip), halves=(frozenset(range(2, 10)), "face", "back of head"))
        rings.append(new)
        ring = new

    top = _HEAD["crown"]

    def crown(a: float, b: float) -> Point:
        u, x = to_disc(a, b)
        width, depth, height = top["half_width"] * x, top["half_depth"] * u, top["height"] - top["round"] * (x * x + u * u)
        return np.array([width, height, depth + top["forward"]])

    cage.chart = "back of head"
    cap(cage, ring, 4, 4, crown, "head", top["along"], 0, HEAD)
    cage.chart = "face"
    _face(cage, [r[4:9] for r in rings[chin:brow + 1]])
    for side in (1, -1):
        front, back = (10, 11) if side > 0 else (2, 1)
        rows = rings[low:high + 1]
        _ear(cage, [r[front] for r in rows], [r[back] for r in rows], side)


def _face(cage: Cage, border: list[list[int]]) -> None:
    """Fill the face: two loops inside its border, then a grid whose mouth and eyes get loops of their own."""
    last = len(border) - 1
    inner = {(c, r): _face_vertex(cage, x, y) for c, x in enumerate(_FACE["columns"]) for r, y in enumerate(_FACE["rows"])}
    loops = [{at: border[at[1]][at[0]] for at in _rim(last)}]
    outer = np.array([cage.points[loops[0][at]][:2] for at in _rim(last)])
    within = np.array([cage.points[inner[at]][:2] for at in _rim(last)])
    middle = _FACE["of_grid"] * within + _FACE["of_border"] * outer
    loops.append({at: _face_vertex(cage, x, y) for at, (x, y) in zip(_rim(last), middle, strict=True)})
    loops.append({at: inner[at] for at in _rim(last)})
    done: set[frozenset[int]] = set()

    def emit(a: int, b: int, c: int, d: int) -> None:
        if frozenset((a, b, c, d)) not in done:
            done.add(frozenset((a, b, c, d)))
            cage.quad(a, b, c, d, 1)

    ring1 = loops[1]
    _inset(cage, emit, done, [[inner[c, r] for c in range(5)] for r in _FACE["mouth"]], _FACE["inset"])
    _inset(cage, emit, done, [[inner[3, r], inner[4, r], ring1[4, r]] for r in _FACE["eyes"]], _FACE["inset"])
    _inset(cage, emit, done, [[ring1[0, r], inner[0, r], inner[1, r]] for r in _FACE["eyes"]], _FACE["inset"])
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
    z = _FACE["forward"] - _FACE["curve"] * x * x
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


def _ear(cage: Cage, front: list[int], back: list[int], side: int) -> None:
    """Grow an ear from a slot in the side of the head: its back, the rim, the bowl."""
    hole = front + back[::-1]
    tilt, flare = np.deg2rad(_EAR["tilt"]), np.deg2rad(_EAR["flare"])
    root, outline, middle = (np.array(_EAR[name]) for name in ("root", "outline", "middle"))
    out = np.array([np.cos(flare), 0.0, np.sin(flare)])  # the ear's face looks outwards and a little ahead
    ahead = np.array([-np.sin(flare), 0.0, np.cos(flare)])
    up = np.array([0.0, 1.0, 0.0])
    ahead, up = np.cos(tilt) * ahead - np.sin(tilt) * up, np.sin(tilt) * ahead + np.cos(tilt) * up
    ring = hole
    cage.chart = f"ear {side}"
    for pull, lift_front, lift_back in _EAR["rings"]:
        new = []
        for i, spot in enumerate(outline):
            f, u, o = spot + pull * (middle - spot)
            o += lift_front if i < 5 else lift_back
            new.append(cage.add(mirrored(root + f * ahead + u * up + o * out, side), "ear", _EAR["along"], side, HEAD))
        cage.bridge(ring, new, -side)
        ring = new
    for i in range(4):
        cage.quad(ring[i], ring[9 - i], ring[8 - i], ring[i + 1], side)
