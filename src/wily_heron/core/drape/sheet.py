"""A sheet: a mesh as cloth of a fabric, with all that does not change while it moves."""

from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import dijkstra, reverse_cuthill_mckee

from ..mesh.edges import adjacency, unique_edges
from ..model.steps.fabric import Fabric
from .by_direction import by_direction
from .kernels.sheet_kernels import across_sides, bend_weights, colours, walks

_LONG = (2.5, 6.0, 13.0)
"""Long links reach this many mean edges."""
_WINDOW = 128
_PULL = 2.0
"""N/m: the pull of a cloth's own weight, at which the long links allow what the fabric gives."""


@dataclass(frozen=True)
class Part:
    """One list of constraints: `rows` (k, 2 or 4), ordered from the held cloth on within each half; `split` (4,) where each part begins."""

    rows: np.ndarray
    split: np.ndarray


@dataclass(frozen=True)
class Sheet:
    """A mesh (n, 3), (m, 3) at rest as cloth: `mass` (n,) kg; faces with their `weave` (m, 4), what drawstrings have `drawn` it to
    (m,), and `soft` (m, 3) per joule; stitches `sewn` with `stitch` (s,) metres; the `threads` (e, 2) that strain is told of and their
    `rest` (e,); bends with `weight` (b, 4), `bend_soft` (b,) m/N and `curve` (b,) metres off flat at rest; long links of at most `most`
    (l,) metres; `tied` (t,) vertices no farther than `tie` (t,) from those held `tied_to` (t,); each vertex's `friction`, `damping` (1/s),
    `thickness` and the `gap` (metres) it keeps from others (n,). Its vertices are those `order` (n,) of the mesh, half of the cloth first,
    the other after it from `halves[1]` on."""

    order: np.ndarray
    halves: np.ndarray
    points: np.ndarray
    triangles: np.ndarray
    mass: np.ndarray
    faces: Part
    weave: np.ndarray
    drawn: np.ndarray
    soft: np.ndarray
    sewn: Part
    stitch: np.ndarray
    threads: np.ndarray
    rest: np.ndarray
    bends: Part
    weight: np.ndarray
    bend_soft: np.ndarray
    curve: np.ndarray
    links: Part
    most: np.ndarray
    tied: np.ndarray
    tied_to: np.ndarray
    tie: np.ndarray
    friction: np.ndarray
    damping: np.ndarray
    thickness: np.ndarray
    gap: np.ndarray


def sheet(points: np.ndarray, triangles: np.ndarray, fabric: Fabric, held: np.ndarray | None = None, warp: np.ndarray | None = None,
          flat: bool = False, shrink: np.ndarray | None = None, sewn: np.ndarray | None = None,
          stiffer: np.ndarray | None = None, later: np.ndarray | None = None) -> Sheet:
    """Return the cloth of a mesh at rest.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        fabric: Its weight, thickness, stretch, bending and friction.
        held: (n,) bool, vertices that stay with what wears them.
        warp: (m, 3) the thread's direction on each face; downward if not given.
        flat: It bends back to flat, not to the shape it has.
        shrink: (n,) factors that draw gathered cloth in.
        sewn: (s, 2) int, vertices that stay as far from each other as they are.
        stiffer: (n,) factors of the fabric's stiffness in bending and shear.
        later: (n,) bool, those of `shrink` that are of drawstrings.
    """
    order, place, halves = _halves(np.asarray(points, np.float64), triangles)
    x = np.ascontiguousarray(points, np.float64)[order]
    triangles = np.ascontiguousarray(place[triangles], np.int32)
    rows, sides = unique_edges(triangles)
    across, faces = across_sides(sides, len(rows))
    normal = np.cross(x[triangles[:, 1]] - x[triangles[:, 0]], x[triangles[:, 2]] - x[triangles[:, 0]])
    area = 0.5 * np.linalg.norm(normal, axis=1)
    mass = np.bincount(triangles.ravel(), np.repeat(area * fabric.weight / 3, 3), minlength=len(x))
    rest = np.maximum(np.linalg.norm(x[rows[:, 1]] - x[rows[:, 0]], axis=1), 1e-9)
    off = _off_warp(x, rows, sides, normal, _thread(normal, warp))
    drawn = np.ones(len(x)) if shrink is None else np.asarray(shrink, np.float64)[order]
    thread = _thread(normal, warp)
    weave = _weave(x, triangles, normal, thread) / drawn[triangles].mean(axis=1)[:, None]
    strung = np.ones(len(triangles)) if later is None else np.asarray(later, np.float64)[order][triangles].mean(axis=1)
    soft = 1.0 / (np.maximum(area, 1e-10)[:, None] * [fabric.warp, fabric.weft, fabric.shear])
    corners, weight, bend_soft, curve = _bending(x, triangles, rows, faces, off, float(area.sum()), fabric)
    if stiffer is not None:
        times = np.log(np.asarray(stiffer, np.float64)[order])
        soft[:, 2] /= np.exp(times[triangles].mean(axis=1))
        bend_soft /= np.exp(times[corners].mean(axis=1))
    far, length = _long_links(x, triangles, across, float(rest.mean()))
    reach, nearest = _reach(x, np.concatenate([rows, far]), np.concatenate([rest, length]), None if held is None else held[order])
    tied = np.flatnonzero((nearest >= 0) & (reach > 0) & np.isfinite(reach))
    stitches = np.zeros((0, 2), np.int32) if sewn is None else place[sewn].astype(np.int32)
    far_give = _give(x, far[:, 0], far[:, 1], triangles, thread, fabric)
    tie_give = _give(x, tied, nearest[tied], triangles, thread, fabric)
    half = np.arange(len(x)) >= halves[1]
    t, b, f, s = (_ordered(each, half, reach) for each in (triangles, corners, far, stitches))
    return Sheet(
        order=order,
        halves=halves,
        points=x,
        triangles=triangles,
        mass=np.maximum(mass, 1e-3 * mass[mass > 0].mean()),
        faces=Part(triangles[t[0]], t[1]),
        weave=weave[t[0]],
        drawn=strung[t[0]],
        soft=soft[t[0]],
        sewn=Part(stitches[s[0]], s[1]),
        stitch=np.linalg.norm(x[stitches[s[0], 0]] - x[stitches[s[0], 1]], axis=1),
        threads=rows,
        rest=rest * drawn[rows].mean(axis=1),
        bends=Part(corners[b[0]], b[1]),
        weight=weight[b[0]],
        bend_soft=bend_soft[b[0]],
        curve=np.zeros(len(corners)) if flat else curve[b[0]],
        links=Part(far[f[0]], f[1]),
        most=(length * far_give)[f[0]],
        tied=tied,
        tied_to=nearest[tied],
        tie=reach[tied] * tie_give,
        **touch_of(fabric, rest * drawn[rows].mean(axis=1), len(x)),
    )


def touch_of(fabric: Fabric, rest: np.ndarray, n: int) -> dict[str, np.ndarray]:
    """Return what each of `n` vertices of a fabric is to the touch, by the sheet's fields; `rest` (e,) are the lengths of its threads."""
    gap = min(max(0.7 * float(np.median(rest)), 2 * fabric.thickness), 0.007)
    known = {"friction": fabric.friction, "damping": fabric.damping, "thickness": fabric.thickness, "gap": gap}
    return {name: np.full(n, value) for name, value in known.items()}


def _off_warp(x: np.ndarray, rows: np.ndarray, sides: np.ndarray, normal: np.ndarray, thread: np.ndarray) -> np.ndarray:
    """Return the angle (e,) from the warp to each edge, about the cloth's normal."""
    mean, up = np.zeros((len(rows), 3)), np.zeros((len(rows), 3))
    for k in range(3):
        np.add.at(mean, sides[:, k], thread)
        np.add.at(up, sides[:, k], normal)
    along = x[rows[:, 1]] - x[rows[:, 0]]
    aside = np.cross(up, mean) / np.maximum(np.linalg.norm(up, axis=1, keepdims=True), 1e-30)
    return np.arctan2(np.sum(along * aside, axis=1), np.sum(along * mean, axis=1))


def _bending(x: np.ndarray, triangles: np.ndarray, rows: np.ndarray, faces: np.ndarray, off: np.ndarray, area: float,
             fabric: Fabric) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Return the bends `(corners (b, 4), weight (b, 4), soft (b,), curve (b,))` of the edges between two faces."""
    between = np.flatnonzero(faces[:, 1] >= 0)
    corners = _corners(triangles, rows, faces, between)
    weight, room, curve, feels = (np.empty((len(between), *more)) for more in ((4,), (), (), (3,)))
    bend_weights(x, corners, weight, room, curve, feels)
    twist = float(np.sqrt(fabric.bend_warp * fabric.bend_weft))
    backward = corners[:, 0] != rows[between, 0]
    bent = off[between] + 0.5 * np.pi + np.pi * backward  # an edge bends across itself, to the left of the way its left face runs
    rigid = by_direction(bent, room, area, (fabric.bend_warp, fabric.bend_weft, twist), feels)
    return corners, weight, room / np.maximum(rigid, 1e-12), curve


def _reach(x: np.ndarray, ends: np.ndarray, length: np.ndarray, held: np.ndarray | None) -> tuple[np.ndarray, np.ndarray]:
    """Return how far (n,) each vertex lies from the held cloth along the links `ends` (k, 2), and from which of it; without any held,
    how far below the top, and -1."""
    if held is None or not held.any():
        return x[:, 1].max() - x[:, 1], np.full(len(x), -1)
    graph = sparse.coo_matrix((length, ends.T), (len(x), len(x))).tocsr()
    far, _, nearest = dijkstra(graph, directed=False, indices=np.flatnonzero(held), return_predecessors=True, min_only=True)
    return far, nearest.astype(np.int64)


def _weave(x: np.ndarray, triangles: np.ndarray, normal: np.ndarray, thread: np.ndarray) -> np.ndarray:
    """Return `(m, 4)`: how the second and third corner of each face, from its first, make a unit step along the warp, then the weft."""
    across = np.cross(normal, thread) / np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-30)
    one, two = x[triangles[:, 1]] - x[triangles[:, 0]], x[triangles[:, 2]] - x[triangles[:, 0]]
    u1, u2, v1, v2 = (np.sum(side * way, axis=1) for way in (thread, across) for side in (one, two))
    room = u1 * v2 - u2 * v1
    room = np.where(np.abs(room) < 1e-10, 1e-10, room)
    return np.stack([v2, -v1, -u2, u1], axis=1) / room[:, None]


def _give(x: np.ndarray, start: np.ndarray, stop: np.ndarray, triangles: np.ndarray, thread: np.ndarray, fabric: Fabric) -> np.ndarray:
    """Return by what factor (k,) a strip of the cloth from vertex to vertex is longer under its own weight, at most a fifth: little along
    the threads, more on the bias. Follows: Kilby, Planar stress-strain relationships in woven fabrics, 1963."""
    warp = np.zeros_like(x)
    for k in range(3):
        np.add.at(warp, triangles[:, k], thread)
    way, along = x[stop] - x[start], warp[start]
    cosine = np.sum(way * along, axis=1) / np.maximum(np.linalg.norm(way, axis=1) * np.linalg.norm(along, axis=1), 1e-12)
    c = np.clip(cosine**2, 0.0, 1.0)
    return 1.0 + np.minimum(0.2, _PULL * (c**2 / fabric.warp + (1 - c) ** 2 / fabric.weft + c * (1 - c) / fabric.shear))


def _thread(normal: np.ndarray, warp: np.ndarray | None) -> np.ndarray:
    """Return each face's warp direction (m, 3), downward along the face if not given."""
    down = np.tile([0.0, -1.0, 0.0], (len(normal), 1)) if warp is None else np.asarray(warp, np.float64)
    unit = normal / np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-30)
    laid = down - np.sum(down * unit, axis=1, keepdims=True) * unit
    size = np.linalg.norm(laid, axis=1, keepdims=True)
    return np.where(size > 1e-6, laid / np.maximum(size, 1e-6), np.eye(3)[2])


def _corners(triangles: np.ndarray, rows: np.ndarray, faces: np.ndarray, between: np.ndarray) -> np.ndarray:
    """Return `(b, 4)`: an edge's ends as its left face runs, then that face's far corner and the other's."""
    left, right, ends = triangles[faces[between, 0]], triangles[faces[between, 1]], rows[between]
    far = [np.where((f != ends[:, :1]) & (f != ends[:, 1:]), f, 0).sum(axis=1) for f in (left, right)]
    at = np.argmax(left == far[0][:, None], axis=1)
    pick = lambda k: left[np.arange(len(left)), (at + k) % 3]  # noqa: E731
    return np.ascontiguousarray(np.stack([pick(1), pick(2), *far], axis=1), np.int32)


def _long_links(x: np.ndarray, triangles: np.ndarray, across: np.ndarray, edge: float) -> tuple[np.ndarray, np.ndarray]:
    """Return the ends (l, 2) of the long links and how far apart (l,) they lie on the surface; but for the shortest, those of every other
    vertex, which hold as well as all do."""
    ends, length = _once(*walks(x, triangles, across, np.array(_LONG) * edge), len(x))
    kept = (length < 0.5 * (_LONG[0] + _LONG[1]) * edge) | (ends.min(axis=1) % 2 == 0)
    return ends[kept], length[kept]


def _once(ends: np.ndarray, length: np.ndarray, n: int) -> tuple[np.ndarray, np.ndarray]:
    low, high = ends.min(axis=1).astype(np.int64), ends.max(axis=1).astype(np.int64)
    _, first = np.unique(low * n + high, return_index=True)
    return ends[first], length[first]


def _halves(x: np.ndarray, triangles: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return `(order, place, halves)`: the vertices of one half, cut along the wider level axis, then the other's, neighbours near; where
    each has gone; and (3,) where each half begins and ends."""
    axis = 0 if np.ptp(x[:, 0]) >= np.ptp(x[:, 2]) else 2
    half = x[:, axis] > np.median(x[:, axis])
    rank = np.empty(len(x), np.int64)
    rank[reverse_cuthill_mckee(adjacency(triangles, len(x)), symmetric_mode=True)] = np.arange(len(x))
    order = np.lexsort((rank, half))
    place = np.empty(len(x), np.int32)
    place[order] = np.arange(len(x))
    return order, place, np.array([0, np.count_nonzero(~half), len(x)])


def _ordered(rows: np.ndarray, half: np.ndarray, reach: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return `(order, split)`: constraints of one half, the other, and across, each from the held cloth on; neighbours in the order share
    no vertex, so that the processor need not wait for one before it begins the next."""
    sides = half[rows]
    part = np.where(sides.all(axis=1), 1, np.where(sides.any(axis=1), 2, 0))
    order = np.lexsort((reach[rows].min(axis=1), part))
    window = np.arange(len(order)) // _WINDOW
    colour = colours(rows[order], window, len(half))
    order = order[np.lexsort((colour, window, part[order]))]
    return order, np.concatenate([[0], np.cumsum(np.bincount(part, minlength=3))]).astype(np.int64)
