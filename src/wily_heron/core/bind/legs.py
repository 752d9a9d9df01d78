"""Weights of cloth that hangs round both legs: each leg carries its half, the cloth between is shared."""

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import connected_components

from ..figure.base.body import Wearer
from ..mesh.edges import unique_edges

_BAND = 0.025
"""The weights of a leg at a height are its skin's mean within about this height (metres)."""
_SEAM = 0.07
"""The crotch of trousers hangs so much lower (metres) than the body's at the most: that of the film's stock 2 to 4 cm."""
_FEW = 20
"""Fewer vertices than this below that say nothing."""
_LEG = ("hip", "hip_twist", "knee", "talocrural", "metatarsophalangeal")


def skirt(points: np.ndarray, triangles: np.ndarray, wearer: Wearer) -> np.ndarray:
    """Return `(n,) bool`: the vertices below the crotch of cloth that goes round both legs at once; trousers have none.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        wearer: The body in its shape, at rest.
    """
    if len(wearer.skeleton.some(f"{side}{joint}" for side in ("l_", "r_") for joint in ("hip", "knee", "talocrural"))) < 6:
        return np.zeros(len(points), bool)
    top = crotch(wearer)
    below, low = points[:, 1] < top - 0.01, points[:, 1] < top - _SEAM
    if low.sum() > _FEW and not _round_both(points, triangles, low).any():
        return np.zeros(len(points), bool)
    return _round_both(points, triangles, below)


def _round_both(points: np.ndarray, triangles: np.ndarray, below: np.ndarray) -> np.ndarray:
    """Return `(n,) bool`: the vertices of those connected parts of what is `below` (n,) that go about both legs."""
    edges, _ = unique_edges(triangles)
    edges = edges[below[edges].all(axis=1)]
    if not len(edges):
        return np.zeros(len(points), bool)
    graph = sparse.csr_matrix((np.ones(len(edges)), edges.T), shape=(len(points),) * 2)
    count, label = connected_components(graph, directed=False)
    left = np.bincount(label, below & (points[:, 0] > 0.04), count)
    right = np.bincount(label, below & (points[:, 0] < -0.04), count)
    both = (left > 5) & (right > 5) & (np.minimum(left, right) > 0.15 * np.maximum(left, right))
    return below & both[label]


def crotch(wearer: Wearer) -> float:
    """Return the height (metres) where the legs part: the lowest skin at the middle above the knees."""
    p = wearer.points
    knee = wearer.skeleton.positions[wearer.skeleton.index("l_knee"), 1]
    middle = (np.abs(p[:, 0]) < 0.004) & (p[:, 1] > knee)
    return float(p[middle, 1].min()) if middle.any() else float(wearer.skeleton.positions[wearer.skeleton.index("l_hip"), 1]) - 0.08


def leg_weights(points: np.ndarray, rows: np.ndarray, wearer: Wearer, width: float) -> np.ndarray:
    """Return weights `(r, j)` for the vertices in `rows`: the two legs' at their height, shared from side to side.

    `width` 0 shares between the legs' axes alone, so that each front goes wholly with its leg; 1 all round the cloth, which stretches it
    least and lets a striding leg come nearer to it.

    Args:
        points: (n, 3) float, metres.
        rows: (r,) int, rows of points.
        wearer: The body in its shape, at rest.
        width: 0 shares between the legs' axes alone, 1 all round the cloth.
    """
    p, skeleton = np.asarray(points, np.float64)[rows], wearer.skeleton
    legs = [_leg_at(p[:, 1], wearer, side) for side in ("l_", "r_")]
    axis = np.array([skeleton.positions[skeleton.index(j)] for j in ("l_hip", "l_knee", "l_talocrural")])[::-1]
    bone = np.abs(np.interp(p[:, 1], axis[:, 1], axis[:, 0]))
    heights = np.round(p[:, 1] / 0.02).astype(int)
    low = heights.min()
    reach = np.zeros(heights.max() - low + 1)
    np.maximum.at(reach, heights - low, np.abs(p[:, 0]))
    half = np.maximum(0.8 * (1.0 - width) * bone + width * reach[heights - low], 0.03)
    share = np.clip(0.5 + 0.5 * p[:, 0] / half, 0.0, 1.0)
    share = (1.0 - width) * share**2 * (3 - 2 * share) + width * share
    return share[:, None] * legs[0] + (1.0 - share)[:, None] * legs[1]


def _leg_at(heights: np.ndarray, wearer: Wearer, side: str) -> np.ndarray:
    """The mean weights (q, j) of one leg's skin about each height, other limbs left out."""
    skeleton, skin = wearer.skeleton, wearer.body.skin
    own = skeleton.some(side + name for name in _LEG)
    of_leg = np.isin(skin.joints, own) @ np.ones(skin.joints.shape[1]) > 0
    rows = np.flatnonzero(of_leg & (wearer.points[:, 0] * (1 if side == "l_" else -1) > 0))[::3]
    dense = np.zeros((len(rows), len(skeleton.names)))
    at = np.repeat(np.arange(len(rows)), skin.joints.shape[1])
    np.add.at(dense, (at, skin.joints[rows].ravel()), skin.weights[rows].ravel())
    dense[:, np.setdiff1d(np.arange(dense.shape[1]), own)] = 0.0
    grid = np.linspace(wearer.points[rows, 1].min(), wearer.points[rows, 1].max(), 80)
    kernel = np.exp(-0.5 * ((grid[:, None] - wearer.points[rows, 1]) / _BAND) ** 2)
    mean = kernel @ dense
    mean /= np.maximum(mean.sum(axis=1, keepdims=True), 1e-9)
    out = np.zeros((len(heights), dense.shape[1]))
    for j in own:
        out[:, j] = np.interp(heights, grid, mean[:, j])
    return out
