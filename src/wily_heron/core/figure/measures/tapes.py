"""Tapes laid on the figure: where each body measure is taken, found by slicing the mesh.

Names and definitions follow ISO 8559-1:2017. Girths are tape-true: the tape bridges concavities (the convex hull of the slice).
"""

from dataclasses import dataclass

import numpy as np
from scipy.spatial import ConvexHull

from ...memo import memoised
from ...mesh.edges import unique_edges
from ..base.body import Body
from ..base.shape_moves import Ground
from ..figure import figure
from ..kept import FIGURE

_UP = np.array([0.0, 1.0, 0.0])


@dataclass(frozen=True)
class Laid:
    """A tape as it lies: points on mesh edges `a + t (b - a)`, in order; `closed` goes round."""

    a: np.ndarray
    b: np.ndarray
    t: np.ndarray
    closed: bool

    def on(self, points: np.ndarray) -> np.ndarray:
        """Return the tape's points `(k, 3)` on body vertices `points` (n, 3), in any shape or pose."""
        return points[self.a] + self.t[:, None] * (points[self.b] - points[self.a])

    def length(self, points: np.ndarray) -> float:
        """Return its length in metres on `points`."""
        line = self.on(points)
        steps = np.diff(np.vstack([line, line[:1]]) if self.closed else line, axis=0)
        return float(np.linalg.norm(steps, axis=1).sum())


@dataclass(frozen=True)
class Marks:
    """What does not change with the shape: edges of each region, and the vertices the levels are read from."""

    regions: dict[str, np.ndarray]
    at: dict[str, int]
    midline: np.ndarray


def _region_edges(ground: Ground, edges: np.ndarray, inside: np.ndarray) -> np.ndarray:
    return edges[inside[edges].all(axis=1)]


@memoised(FIGURE)
def marks(level: int = 2) -> Marks:
    """Return the marks of the figure at `level`, found once on the base body."""
    body = figure(level)
    ground = Ground.of(body.base, body.skin, body.skeleton)
    p = ground.points
    shared = np.arange(len(p)) < len(figure(1).base)  # marks are vertices that every level has
    edges = unique_edges(body.triangles)[0].astype(np.int64)
    arms = ground.carried("l_shoulder") + ground.carried("r_shoulder")
    left = p[:, 0] > -1e-6
    thumb = ground.carried("l_carpometacarpal_1")
    regions = {
        "trunk": arms < 0.45,
        "neck": (ground.carried("vt1") > 0.3) & (np.abs(p[:, 0]) < 0.064),
        "head": ground.carried("skullbase") > 0.3,
        "leg": left & (ground.carried("l_hip") > 0.25),
        "foot": left & (ground.carried("l_talocrural") > 0.3),
        "arm": ground.carried("l_shoulder") > 0.4,
        "hand": (ground.carried("l_radiocarpal") > 0.5) & (thumb < 0.3),
    }

    def nearest(x: float, y: float, z: float, among: np.ndarray | None = None) -> int:
        gap = np.sum((p - [x, y, z]) ** 2, axis=1)
        return int(np.argmin(np.where(shared if among is None else shared & among, gap, np.inf)))

    def extreme(axis: int, sign: float, among: np.ndarray) -> int:
        return int(np.argmax(np.where(among & shared, sign * p[:, axis], -np.inf)))

    middle = np.abs(p[:, 0]) < 1e-7
    band = lambda low, high: (p[:, 1] > low) & (p[:, 1] < high) & regions["trunk"]  # noqa: E731
    at = {
        "crown": extreme(1, 1, p[:, 1] > 1.5), "heel": extreme(2, -1, left & (p[:, 1] < .05)),
        "toe": extreme(2, 1, left & (p[:, 1] < .05)), "ball_in": extreme(0, -1, (p[:, 0] > .01) & (p[:, 1] < .05) & (p[:, 2] > .07)),
        "ball_out": extreme(0, 1, left & (p[:, 1] < .05) & (p[:, 2] > .04)),
        "cervical": nearest(0, 1.448, -.10, middle), "neck_front": nearest(0, 1.425, .03, middle),
        "neck_side": nearest(.056, 1.455, -.02), "larynx": nearest(0, 1.468, .03, middle),
        "acromion": nearest(.178, 1.412, -.022), "armpit": nearest(.150, 1.300, -.01, p[:, 0] > 0),
        "bust": extreme(2, 1, band(1.19, 1.27) & (p[:, 0] > .04)), "under_bust": nearest(.07, 1.160, .10),
        "waist": nearest(.14, 1.085, 0, regions["trunk"]), "hip": extreme(2, -1, band(.82, .93)),
        "brow": nearest(0, 1.625, .09, middle), "crotch": extreme(1, -1, middle),
    }
    return Marks({k: _region_edges(ground, edges, v) for k, v in regions.items()}, at, np.flatnonzero(middle))


def slice_tape(points: np.ndarray, edges: np.ndarray, origin: np.ndarray, normal: np.ndarray) -> Laid | None:
    """Return the tape round the cut of `edges` (e, 2) with a plane, bridging concavities; None where nothing is cut.

    >>> import trimesh
    >>> ball = trimesh.creation.icosphere(subdivisions=2, radius=0.1)
    >>> round_it = slice_tape(ball.vertices, ball.edges_unique, np.zeros(3), np.array([0.0, 1, 0]))
    >>> bool(abs(round_it.length(ball.vertices) - 0.2 * np.pi) < 0.01)
    True
    """
    height = (points - origin) @ normal
    cut = edges[(height[edges[:, 0]] < 0) != (height[edges[:, 1]] < 0)]
    if len(cut) < 3:
        return None
    ha, hb = height[cut[:, 0]], height[cut[:, 1]]
    t = ha / (ha - hb)
    line = points[cut[:, 0]] + t[:, None] * (points[cut[:, 1]] - points[cut[:, 0]])
    side = np.cross(normal, [0.0, 0.0, 1.0] if abs(normal[2]) < 0.9 else _UP)
    side /= np.linalg.norm(side)
    flat = np.stack([line @ side, line @ np.cross(normal, side)], axis=1)
    hull = ConvexHull(flat).vertices
    return Laid(cut[hull, 0], cut[hull, 1], t[hull], True)


def straight(*vertices: int) -> Laid:
    """Return a tape straight from vertex to vertex."""
    v = np.array(vertices)
    return Laid(v, v, np.zeros(len(v)), False)


def back_tape(points: np.ndarray, midline: np.ndarray, top: int, level: float) -> Laid:
    """Return the tape down the middle of the back from vertex `top` to height `level`, bridging hollows."""
    p = points[midline]
    low = midline[np.argmin(np.abs(p[:, 1] - level) + np.where(p[:, 2] > points[top, 2] + .12, 1.0, 0.0))]
    between = midline[(p[:, 1] <= points[top, 1]) & (p[:, 1] >= points[low, 1]) & (p[:, 2] < points[[top, low], 2].max() + .01)]
    between = np.unique(np.concatenate([between, [top, low]]))
    order = between[np.argsort(-points[between, 1])]
    chain: list[int] = []
    for v in order:  # keep the outer (backward) side of the hull
        while len(chain) > 1 and _turn(points, chain[-2], chain[-1], v) >= 0:
            chain.pop()
        chain.append(int(v))
    return straight(*chain)


def _turn(points: np.ndarray, a: int, b: int, c: int) -> float:
    ab, ac = points[b] - points[a], points[c] - points[a]
    return float(ab[2] * ac[1] - ab[1] * ac[2])


def level_of(body: Body) -> int:
    """Return the refinement level of a figure's body by its vertex count; 2 if it is a finer one."""
    return 1 if len(body.base) == len(figure(1).base) else 2
