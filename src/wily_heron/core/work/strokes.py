"""The hand tools: pull, press, puff, iron, and the mask that protects from them."""

import numpy as np

from ..mesh.normals import vertex_normals
from ..model.steps.hand import HandDab, Stroke
from ..space.surface import Surface, soft
from ..space.surface_kernels import ironed
from ..space.under import Under

PUFF = 0.010
"""A full dab of puff or press moves this far (metres)."""


class Stroking:
    """A piece in the hand: points (n, 3) that strokes move, and the mask `protect` (n,) that holds them back, 0 to 1.

    Dabs change only the vertices within the brush along the surface, so one costs milliseconds whatever the size of the piece.
    """

    def __init__(
        self, points: np.ndarray, triangles: np.ndarray, rows: np.ndarray, under: Under | None, protect: np.ndarray | None = None
    ) -> None:
        self.points = np.array(points, np.float64)
        self.triangles = triangles
        self.surface = Surface.of(points, triangles)
        self.protect = np.zeros(len(points)) if protect is None else np.array(protect, np.float64)
        self.under = under
        self._row = {int(r): i for i, r in enumerate(rows)}
        self._vertex_triangles = _triangles_of(triangles, len(points))

    def vertex(self, row: int) -> int | None:
        """Return the vertex that came from received `row`, None where it has been cut away."""
        return self._row.get(row)

    def apply(self, stroke: Stroke) -> tuple[np.ndarray, int]:
        """Make a whole stroke; return the vertices it touched and how many dabs found their place no more."""
        touched, lost = [], 0
        for dab in stroke.dabs:
            rows = self.dab(stroke, dab)
            lost += rows is None
            if rows is not None:
                touched.append(rows)
        return (np.unique(np.concatenate(touched)) if touched else np.zeros(0, np.int64)), lost

    def dab(self, stroke: Stroke, dab: HandDab) -> np.ndarray | None:
        """Make one dab of a stroke, and its mirror image if asked; return the vertices moved, None if its place is gone."""
        vertex = self.vertex(dab.at)
        if vertex is None:
            return None
        rows = self._one(stroke, vertex, np.array(dab.move))
        other = int(self.surface.other[vertex]) if stroke.mirror else -1
        if other >= 0 and other != vertex:
            rows = np.union1d(rows, self._one(stroke, other, np.array(dab.move) * [-1.0, 1.0, 1.0]))
        return rows

    def _one(self, stroke: Stroke, vertex: int, move: np.ndarray) -> np.ndarray:
        reach = stroke.radius * (2.5 if stroke.tool == "pull" and stroke.elastic else 1.0)
        rows, distance = self.surface.within(np.array([vertex]), reach)
        if stroke.tool in ("protect", "release"):
            weight = soft(distance, stroke.radius) * (1.0 if stroke.tool == "protect" else -1.0)
            self.protect[rows] = np.clip(self.protect[rows] + 1.5 * stroke.strength * weight, 0.0, 1.0)
            return rows
        weight = soft(distance, stroke.radius) * stroke.strength * (1.0 - self.protect[rows])
        p = self.points
        if stroke.tool == "pull":
            if stroke.elastic:
                p[rows] += (
                    _elastic(p[rows] - p[vertex], move, stroke.radius, soft(distance, reach))
                    * (stroke.strength * (1.0 - self.protect[rows]))[:, None]
                )
            else:
                p[rows] += weight[:, None] * move
        elif stroke.tool == "iron":
            p[rows] = ironed(p, rows, weight, self.surface.first, self.surface.near, self.surface.edges_of)
        else:
            normal = self._normals(rows)
            if stroke.tool == "puff":
                p[rows] += (PUFF * weight)[:, None] * normal
            elif self.under is not None:
                clearance, skin, known = self.under.clearance(p[rows], normal)
                over = np.where(known, np.clip(clearance - stroke.offset, -PUFF, PUFF), 0.0)
                p[rows] -= (weight * over)[:, None] * skin
        return rows

    def _normals(self, rows: np.ndarray) -> np.ndarray:
        first, of = self._vertex_triangles
        near = np.unique(np.concatenate([of[first[r] : first[r + 1]] for r in rows]))
        used, local = np.unique(self.triangles[near], return_inverse=True)
        normal = vertex_normals(self.points[used], local.reshape(-1, 3).astype(np.int32))
        return normal[np.searchsorted(used, rows)]


def _elastic(r: np.ndarray, move: np.ndarray, radius: float, fade: np.ndarray) -> np.ndarray:
    """The move of an elastic sheet gripped at the origin with a soft grip of `radius`, scaled so that the grip itself moves by `move`.

    Follows: de Goes & James, Regularized Kelvinlets, 2017 (Poisson ratio 0.4); `fade` (n,) lets it end at the reach.
    """
    a, b, soft_radius = 1.0, 1.0 / (4 * (1 - 0.4)), 0.6 * radius
    far = np.sqrt((r**2).sum(axis=1) + soft_radius**2)
    u = ((a - b) / far + a * soft_radius**2 / (2 * far**3))[:, None] * move + (b / far**3)[:, None] * r * (r @ move)[:, None]
    return u / ((a - b) / soft_radius + a / (2 * soft_radius)) * fade[:, None]


def _triangles_of(triangles: np.ndarray, count: int) -> tuple[np.ndarray, np.ndarray]:
    order = np.argsort(triangles.ravel(), kind="stable")
    return np.concatenate([[0], np.cumsum(np.bincount(triangles.ravel(), minlength=count))]), order // 3
