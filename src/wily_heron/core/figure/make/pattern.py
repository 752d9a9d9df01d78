"""The body's texture coordinates: its charts, cut where a tailor would put the seams, laid flat side by side."""

import numpy as np

from ..cage_grid import Cage
from .unwrap import border_crosses, flatten, on_a_disc, packed, turned_over


def cage_uv(cage: Cage, points: np.ndarray) -> np.ndarray:
    """Return `(m, 4, 2) float32` texture coordinates of the cage's quads (V up) in the unit square, charts apart.

    `points` (n, 3) are the cage's vertices where they lie on the drawn body. Side seams on the trunk, the underarm, the inseam, the
    back of the head, the heel, and the edges of palm and sole.
    """
    quads = np.array(cage.quads)
    corner = _corners(quads, cage.charts, cage.cuts)
    flat, members = [], []
    for chart in sorted(set(cage.charts)):
        mine = np.flatnonzero(np.array(cage.charts) == chart)
        ids, local = np.unique(corner[mine], return_inverse=True)
        local = local.reshape(-1, 4)
        places = np.zeros((len(ids), 3))
        places[local.ravel()] = points[quads[mine].ravel()]
        triangles = np.concatenate([local[:, [0, 1, 2]], local[:, [0, 2, 3]]])
        laid = flatten(places, triangles)
        if turned_over(laid, triangles) or border_crosses(laid, triangles):
            laid = on_a_disc(places, triangles)
        flat.append(laid)
        members.append((mine, local))
    out = np.zeros((len(quads), 4, 2), np.float32)
    for laid, (mine, local) in zip(packed(flat), members, strict=True):
        out[mine] = laid[local]
    return out


def _corners(quads: np.ndarray, charts: list[str], cuts: set[frozenset[int]]) -> np.ndarray:
    """Return `(m, 4)` ids: corners of two quads are one where the quads share an edge inside a chart that is not cut."""
    parent = list(range(quads.size))

    def root(i: int) -> int:
        while parent[i] != i:
            parent[i] = parent[parent[i]]
            i = parent[i]
        return i

    seen: dict[tuple[int, int], tuple[int, int]] = {}
    for q, quad in enumerate(quads):
        for k in range(4):
            a, b = int(quad[k]), int(quad[(k + 1) % 4])
            other = seen.pop((b, a), None)
            if other is None:
                seen[a, b] = (q, k)
                continue
            p, j = other  # that side runs from b to a
            if charts[p] == charts[q] and frozenset((a, b)) not in cuts:
                parent[root(4 * q + k)] = root(4 * p + (j + 1) % 4)
                parent[root(4 * q + (k + 1) % 4)] = root(4 * p + j)
    return np.array([root(i) for i in range(quads.size)]).reshape(-1, 4)
