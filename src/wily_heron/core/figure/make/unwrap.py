"""Flattening charts of a mesh with the least conformal distortion, and packing them in a square."""

import numpy as np
from scipy import sparse
from scipy.sparse.linalg import spsolve


def flatten(points: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return `(n, 2)` the flat places of a disc's vertices `(n, 3)`, in metres, turned upright.

    Follows: Levy, Petitjean, Ray & Maillot, Least squares conformal maps, 2002. The two vertices farthest apart are held.
    """
    a, b, c = (points[triangles[:, k]] for k in range(3))
    x = np.linalg.norm(b - a, axis=1)
    ahead = (b - a) / x[:, None]
    normal = np.cross(b - a, c - a)
    double = np.linalg.norm(normal, axis=1)
    up = np.cross(normal / double[:, None], ahead)
    local = np.stack([np.zeros_like(x) + 0j, x + 0j, np.sum((c - a) * ahead, axis=1) + 1j * np.sum((c - a) * up, axis=1)], axis=1)
    weight = np.stack([local[:, 2] - local[:, 1], local[:, 0] - local[:, 2], local[:, 1] - local[:, 0]], axis=1) / np.sqrt(double)[:, None]
    rows = np.repeat(np.arange(len(triangles)), 3)
    matrix = sparse.csr_matrix((weight.ravel(), (rows, triangles.ravel())), shape=(len(triangles), len(points)))
    first = int(np.argmin(points[:, 1]))
    last = int(np.argmax(np.linalg.norm(points - points[first], axis=1)))
    held = np.array([first, last])
    free = np.setdiff1d(np.arange(len(points)), held)
    length = np.linalg.norm(points[last] - points[first])
    place = np.zeros(len(points), complex)
    place[last] = 1j * length
    m_free = matrix[:, free]
    right = -(matrix[:, held] @ place[held])
    place[free] = np.asarray(spsolve((m_free.conj().T @ m_free).tocsc(), m_free.conj().T @ right))
    flat = np.stack([np.real(place), np.imag(place)], axis=1)
    scale = np.sqrt(double.sum() / np.abs(_double_areas(flat, triangles)).sum())
    return flat * scale


def _double_areas(flat: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    a, b, c = (flat[triangles[:, k]] for k in range(3))
    return (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])


def packed(charts: list[np.ndarray], gap: float = 0.012) -> list[np.ndarray]:
    """Return the charts (metres) moved side by side, tallest first on shelves, and sized to the unit square by one factor."""
    sizes = [np.ptp(chart, axis=0) + gap for chart in charts]
    order = sorted(range(len(charts)), key=lambda i: -sizes[i][1])
    best: tuple[float, list[np.ndarray]] | None = None
    for width in np.linspace(0.8, 3.0, 45):
        corner, x, y, shelf = [np.zeros(2)] * len(charts), 0.0, 0.0, 0.0
        for i in order:
            if x and x + sizes[i][0] > width:
                x, y, shelf = 0.0, y + shelf, 0.0
            corner[i] = np.array([x, y])
            x, shelf = x + sizes[i][0], max(shelf, sizes[i][1])
        side = max(width, y + shelf)
        if best is None or side < best[0]:
            best = side, corner
    assert best is not None
    side, corner = best
    return [(chart - chart.min(axis=0) + gap / 2 + at) / side for chart, at in zip(charts, corner, strict=True)]


def turned_over(flat: np.ndarray, triangles: np.ndarray) -> int:
    """Return how many flat triangles face the wrong way."""
    return int((_double_areas(flat, triangles) <= 0).sum())


def border_loop(triangles: np.ndarray) -> list[int]:
    """Return the vertices round the outer border of a disc, in order (of several borders, the longest)."""
    sides = np.concatenate([triangles[:, [k, (k + 1) % 3]] for k in range(3)])
    forward = {(int(a), int(b)) for a, b in sides}
    follows = {a: b for a, b in forward if (b, a) not in forward}
    loops = []
    while follows:
        start, at = next(iter(follows.items()))
        loop = [start]
        del follows[start]
        while at != start:
            loop.append(at)
            at = follows.pop(at)
        loops.append(loop)
    return max(loops, key=len)


def border_crosses(flat: np.ndarray, triangles: np.ndarray) -> bool:
    """Return whether the outer border crosses itself: with no triangle turned over, that is the only way charts overlap."""
    loop = np.array(border_loop(triangles))
    a, b = flat[loop], flat[np.roll(loop, -1)]

    def side(p, q, r):
        return (q[..., 0] - p[..., 0]) * (r[..., 1] - p[..., 1]) - (q[..., 1] - p[..., 1]) * (r[..., 0] - p[..., 0])

    p, q, r, s = a[:, None], b[:, None], a[None], b[None]
    apart = np.abs(np.subtract.outer(np.arange(len(loop)), np.arange(len(loop))))
    far = (apart > 1) & (apart < len(loop) - 1)
    return bool((far & (side(p, q, r) * side(p, q, s) < 0) & (side(r, s, p) * side(r, s, q) < 0)).any())


def on_a_disc(points: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return `(n, 2)` flat places with the border on a circle and every inner vertex amid its neighbours: never folded.

    Follows: Tutte, How to draw a graph, 1963; Floater, Parametrization and smooth approximation of surface triangulations, 1997.
    """
    loop = border_loop(triangles)
    sides = np.concatenate([triangles[:, [k, (k + 1) % 3]] for k in range(3)])
    steps = np.linalg.norm(points[np.roll(loop, -1)] - points[loop], axis=1)
    angle = 2 * np.pi * np.concatenate([[0.0], np.cumsum(steps)[:-1]]) / steps.sum()
    a, b, c = (points[triangles[:, k]] for k in range(3))
    radius = np.sqrt(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() / 2 / np.pi)
    n = len(points)
    edges = np.unique(np.sort(sides, axis=1), axis=0)
    near = sparse.csr_matrix((np.ones(2 * len(edges)), (np.r_[edges[:, 0], edges[:, 1]], np.r_[edges[:, 1], edges[:, 0]])), shape=(n, n))
    free = np.setdiff1d(np.arange(n), loop)
    out = np.zeros((n, 2))
    out[loop] = radius * np.stack([np.cos(angle), np.sin(angle)], axis=1)
    laplacian = sparse.csr_matrix(sparse.diags(np.asarray(near.sum(axis=1)).ravel()) - near)
    right = -(laplacian[free][:, loop] @ out[loop])
    inner = sparse.csc_matrix(laplacian[free][:, free])
    out[free] = np.stack([np.asarray(spsolve(inner, right[:, k])) for k in range(2)], axis=1)
    return out
