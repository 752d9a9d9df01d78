"""The control cage as it is built: vertices with their part and parameter, bands between rings, caps."""

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

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
    chart: str = ""
    charts: list[str] = field(default_factory=list)
    cuts: set[frozenset[int]] = field(default_factory=set)
    """Per quad the piece of the pattern it belongs to (`chart` is the one being built), and the edges where a tube is cut open."""

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
        self.charts.append(self.chart)

    def bridge(self, low: list[int], high: list[int], side: int = 1, skip: frozenset[int] = frozenset(),
               halves: tuple[frozenset[int], str, str] | None = None, cut: int | None = None) -> None:
        """Close the band between two rings of equal length, leaving out the columns in `skip`.

        `halves` (columns, name, other name) tells which columns belong to which chart; `cut` opens the band at one of its edges.
        """
        n = len(low)
        for i in range(n):
            if i not in skip:
                j = (i + 1) % n
                if halves:
                    self.chart = halves[1] if i in halves[0] else halves[2]
                self.quad(low[i], low[j], high[j], high[i], side)
        if cut is not None:
            self.cuts.add(frozenset((low[cut], high[cut])))


def grid_ring(na: int, nb: int) -> list[tuple[float, float]]:
    """Return the border of an `na` x `nb` grid on [-1, 1]^2, counter-clockwise from (-1, -1).

    >>> np.array(grid_ring(1, 1))
    array([[-1., -1.],
           [ 1., -1.],
           [ 1.,  1.],
           [-1.,  1.]])
    """
    a, b = np.linspace(-1, 1, na + 1), np.linspace(-1, 1, nb + 1)
    return ([(x, -1.0) for x in a[:-1]] + [(1.0, y) for y in b[:-1]]
            + [(x, 1.0) for x in a[:0:-1]] + [(-1.0, y) for y in b[:0:-1]])


def to_disc(a: float, b: float) -> tuple[float, float]:
    """Map the square [-1, 1]^2 onto the unit disc, borders to the circle.

    >>> np.hypot(*to_disc(1.0, 1.0)).round(6)
    np.float64(1.0)
    """
    return a * np.sqrt(1 - b * b / 2), b * np.sqrt(1 - a * a / 2)


def cap(cage: Cage, ring: list[int], na: int, nb: int, lift: Callable[[float, float], Point], part: str, along: float,
         side: int, mask: int) -> dict[tuple[int, int], int]:
    """Close a ring with an `na` x `nb` grid of quads; `lift(a, b)` places inner vertices. Returns the grid of vertices."""
    grid = cap_vertices(cage, ring, na, nb, lift, part, along, side, mask)
    for i in range(na):
        for j in range(nb):
            cage.quad(grid[i, j], grid[i + 1, j], grid[i + 1, j + 1], grid[i, j + 1], side or 1)
    return grid


def cap_vertices(cage, ring, na, nb, lift, part, along, side, mask) -> dict[tuple[int, int], int]:
    """Place the vertices of a cap without its faces."""
    grid: dict[tuple[int, int], int] = {}
    for index, (a, b) in zip(ring, grid_ring(na, nb), strict=True):
        grid[round((a + 1) * na / 2), round((b + 1) * nb / 2)] = index
    for i in range(1, na):
        for j in range(1, nb):
            a, b = 2 * i / na - 1, 2 * j / nb - 1
            grid[i, j] = cage.add(lift(a, b), part, along, side, mask)
    return grid


def mirrored(point: Point, side: int) -> Point:
    """Return `point` on the side asked for: 1 left (as given), -1 right."""
    return point if side > 0 else point * np.array([-1.0, 1.0, 1.0])
