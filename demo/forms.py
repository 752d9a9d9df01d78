"""The forms the demo's stock is made of: grown from the figure's skin, turned on a lathe, drawn along a path."""

from collections.abc import Callable, Collection

import numpy as np
import shapely
from scipy import sparse

from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.regions import face_regions
from wily_heron.core.mesh.edges import adjacency
from wily_heron.core.mesh.mesh import Material, Mesh
from wily_heron.core.mesh.normals import vertex_normals
from wily_heron.core.mesh.triangles import triangulate_quads

from .quads import Quads

Keep = Callable[[np.ndarray], np.ndarray]


def grown(regions: Collection[str], ease: float, rounds: int, keep: Keep | None = None, level: int = 1) -> Quads:
    """Return a suit over named regions of the figure (sides left out mean both), at least `ease` off the skin, smoothed.

    `keep(middles)` chooses among the faces by their middles (m, 3).
    """
    body = figure(level)
    names, of = face_regions(level)
    quads = np.concatenate([body.triangles[0::2], body.triangles[1::2, 2:]], axis=1)
    wanted = [i for i, n in enumerate(names) if n in regions or (n[:2] in ("l_", "r_") and n[2:] in regions)]
    covered = np.isin(of[0::2], wanted)
    if keep:
        covered &= keep(body.base[quads].mean(axis=1))
    used, quads = np.unique(quads[covered], return_inverse=True)
    quads = quads.reshape(-1, 4)
    normals = vertex_normals(body.base, body.triangles)[used].astype(np.float64)
    skin = body.base[used].astype(np.float64)
    near = adjacency(quads, len(used))
    mean = sparse.diags(1.0 / np.asarray(near.sum(axis=1)).ravel()) @ near
    rim = _rim(quads, len(used))
    inner = np.asarray(rim.sum(axis=1)).ravel() == 0
    points = skin + ease * normals
    for _ in range(rounds):
        points = _evened(points, inner, mean, rim)
        short = np.maximum(ease - np.sum((points - skin) * normals, axis=1), 0.0)
        points = points + short[:, None] * normals  # never nearer than its ease
    return Quads(points, quads, _round_uv(points, quads), np.zeros(len(quads), int))


def _evened(points: np.ndarray, inner: np.ndarray, mean: sparse.csr_matrix, rim: sparse.csr_matrix) -> np.ndarray:
    return np.where(inner[:, None], 0.5 * points + 0.5 * (mean @ points), 0.5 * points + 0.5 * (rim @ points))


def lathe(profile: list[tuple[float, float]], centre: tuple[float, float, float], around: int = 40, squash: float = 1.0) -> Quads:
    """Return the surface turned from (radius, height) rows about the vertical through `centre`; `squash` narrows it sideways."""
    angle = np.linspace(0, 2 * np.pi, around, endpoint=False)
    rows = [np.stack([squash * r * np.sin(angle), np.full(around, y), r * np.cos(angle)], axis=1) for r, y in profile]
    return tube(np.array(rows) + centre)


def drawn(path: np.ndarray, width: np.ndarray | float, thick: np.ndarray | float | None = None, around: int = 12,
          closed: bool = False, up: tuple[float, float, float] = (0.0, 1.0, 0.0)) -> Quads:
    """Return a band or rope along `path` (k, 3): an ellipse `width` along `up` and `thick` across it (metres, half each)."""
    path = np.asarray(path, float)
    ahead = np.roll(path, -1, axis=0) - np.roll(path, 1, axis=0) if closed else np.gradient(path, axis=0)
    ahead /= np.linalg.norm(ahead, axis=1, keepdims=True)
    tall = np.array(up) - (ahead @ np.array(up))[:, None] * ahead
    tall /= np.maximum(np.linalg.norm(tall, axis=1, keepdims=True), 1e-9)
    side = np.cross(tall, ahead)
    a = np.broadcast_to(width, len(path))[:, None, None]
    b = np.broadcast_to(width if thick is None else thick, len(path))[:, None, None]
    angle = np.linspace(0, 2 * np.pi, around, endpoint=False)[None, :, None]
    return tube(path[:, None] + a * np.cos(angle) * tall[:, None] + b * np.sin(angle) * side[:, None], closed)


def joined(*parts: Quads, materials: tuple[int, ...] | None = None) -> Quads:
    """Return several forms as one piece, each its own island, of the materials given."""
    start = np.cumsum([0, *(len(p.points) for p in parts)])
    which = materials or (0,) * len(parts)
    return Quads(np.concatenate([p.points for p in parts]), np.concatenate([p.quads + s for p, s in zip(parts, start, strict=False)]),
                 np.concatenate([p.uv for p in parts]),
                 np.concatenate([np.full(len(p.quads), m) for p, m in zip(parts, which, strict=True)]))


def mirrored(form: Quads) -> Quads:
    """Return the form on the other side."""
    return Quads(form.points * [-1, 1, 1], form.quads[:, ::-1], form.uv[:, ::-1], form.material)


def as_mesh(form: Quads, *materials: Material) -> Mesh:
    """Return the form as a piece's mesh, each quad a polygon of two triangles."""
    triangles = triangulate_quads(form.quads.astype(np.int32))
    uv = np.stack([form.uv[:, [0, 1, 2]], form.uv[:, [0, 2, 3]]], axis=1).reshape(-1, 3, 2).astype(np.float32)
    polygon = np.repeat(np.arange(len(form.quads), dtype=np.int32), 2)
    return Mesh(form.points.astype(np.float32), triangles, uv, np.repeat(form.material, 2).astype(np.int32), polygon, materials)


def tube(rings: np.ndarray, closed: bool = False) -> Quads:
    """Return the surface through rings (k, n, 3)."""
    k, n, _ = rings.shape
    ring, after = np.arange(n), (np.arange(n) + 1) % n
    bands = [(i, (i + 1) % k) for i in range(k if closed else k - 1)]
    quads = np.concatenate([np.stack([i * n + ring, i * n + after, j * n + after, j * n + ring], axis=1) for i, j in bands])
    u = np.stack([ring, ring + 1, ring + 1, ring], axis=1) / n
    uv = np.concatenate([np.stack([u, np.broadcast_to(np.array([i, i, i + 1, i + 1]) / k, (n, 4))], axis=2) for i, _ in bands])
    points = rings.reshape(-1, 3)
    corner = points[quads]
    facing = np.cross(corner[:, 2] - corner[:, 0], corner[:, 3] - corner[:, 1])
    flux = np.einsum("qa,qa->", corner.mean(axis=1) - points.mean(axis=0), facing)
    if flux < 0:
        quads, uv = quads[:, ::-1], uv[:, ::-1]
    return Quads(points, quads, uv, np.zeros(len(quads), int))


def closed_end(form: Quads, around: int) -> Quads:
    """Return a tube of rings of `around` points (an even number) with its last ring closed by quads across it."""
    first, half = len(form.points) - around, around // 2
    k = np.arange(half - 1)
    across = first + np.stack([k, k + 1, around - 2 - k, around - 1 - k], axis=1)
    facing = np.cross(*(form.points[across[half // 2, [2, 3]]] - form.points[across[half // 2, [0, 1]]]))
    if facing @ (form.points[first:].mean(axis=0) - form.points[: first].mean(axis=0)) < 0:
        across = across[:, ::-1]
    ring = (form.points - form.points.mean(axis=0))[across]
    uv = 0.5 + ring[..., :2] / max(np.ptp(ring), 1e-9)
    return Quads(form.points, np.concatenate([form.quads, across]), np.concatenate([form.uv, uv]),
                 np.concatenate([form.material, np.zeros(len(across), np.int64)]))


def hull_ring(points: np.ndarray, centre: np.ndarray, across: np.ndarray, other: np.ndarray, room: float, around: int) -> np.ndarray:
    """Return the ring (around, 3) that goes round points (n, 3) with `room` metres to spare, in the plane of two unit ways at `centre`."""
    flat = np.stack([(points - centre) @ across, (points - centre) @ other], axis=1)
    hull = shapely.MultiPoint(flat).convex_hull.buffer(room)
    middle = hull.centroid
    out = []
    for a in np.linspace(0, 2 * np.pi, around, endpoint=False):
        way = shapely.LineString([middle, (middle.x + np.cos(a), middle.y + np.sin(a))])
        x, y = way.intersection(hull.exterior).coords[0]
        out.append(centre + x * across + y * other)
    return np.array(out)


def _round_uv(points: np.ndarray, quads: np.ndarray) -> np.ndarray:
    """Return texture coordinates per corner, wound round the vertical, without a quad that runs across the seam."""
    uv = np.stack([0.5 + np.arctan2(points[:, 0], points[:, 2]) / (2 * np.pi), points[:, 1] / 1.8], axis=1)
    corners = uv[quads]
    wraps = np.ptp(corners[..., 0], axis=1) > 0.5
    corners[wraps, :, 0] = np.where(corners[wraps, :, 0] < 0.5, corners[wraps, :, 0] + 1.0, corners[wraps, :, 0])
    return corners


def _rim(quads: np.ndarray, count: int) -> sparse.csr_matrix:
    """Return the matrix `(n, n)` that takes each border vertex to the mean of its neighbours on the border, others to 0."""
    ends = np.sort(np.stack([quads, np.roll(quads, -1, axis=1)], axis=2).reshape(-1, 2), axis=1)
    edges, times = np.unique(ends, axis=0, return_counts=True)
    border = edges[times == 1]
    ends = np.concatenate([border, border[:, ::-1]])
    beside = sparse.csr_matrix((np.ones(len(ends)), (ends[:, 0], ends[:, 1])), shape=(count, count))
    return sparse.csr_matrix(sparse.diags(1.0 / np.maximum(np.asarray(beside.sum(axis=1)).ravel(), 1.0)) @ beside)
