"""Where the joints of a body without a skeleton are, read from its shape alone."""

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import dijkstra

from ..errors import InputError
from ..mesh.edges import edge_lengths, unique_edges
from ..mesh.islands import islands

_WRIST, _ELBOW, _UPPER = 0.122, 0.258, 0.345
"""How far up the arm from the finger tips the wrist, the elbow and the middle of the upper arm lie, as shares of the stature."""
_UPPER_ARM, _FOOT = 0.166, 0.07
"""From elbow to shoulder, and from ankle to the ball of the foot, as shares of the stature."""


def guess_joints(points: np.ndarray, triangles: np.ndarray) -> dict[str, np.ndarray]:
    """Return the places (3,) of the main joints by our names, on a body in metres that stands upright, faces +z, its limbs apart.

    The hands are the points farthest from the crotch along the skin; bands of equal distance from them go round the arm, and their
    middles are in it. Legs and trunk are read at heights. Raises `InputError` where no crotch or no two hands are found.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
    """
    _, label = islands(triangles, len(points))
    main = label == np.argmax(np.bincount(label))
    p = points.astype(np.float64)
    low, high = p[main].min(axis=0), p[main].max(axis=0)
    height, middle = high[1] - low[1], float(np.median(p[main][p[main][:, 1] > low[1] + 0.5 * (high[1] - low[1]), 0]))

    def at(share: float) -> float:
        return float(low[1] + share * height)

    edges, _ = unique_edges(triangles)
    crotch = _crotch(p, edges[main[edges[:, 0]]], middle, at)
    length = edge_lengths(p, edges) + 1e-9
    graph = sparse.csr_matrix((length, (edges[:, 0], edges[:, 1])), shape=(len(p), len(p)))
    away = dijkstra(graph, directed=False, indices=crotch)
    out: dict[str, np.ndarray] = {}
    for side, way in (("l", 1.0), ("r", -1.0)):
        here = main & np.isfinite(away) & (way * (p[:, 0] - middle) > 0.02 * height) & (p[:, 1] > at(0.25)) & (p[:, 1] < at(0.97))
        reach = np.where(here, away, -1.0)
        tip = int(np.argmax(reach))
        if reach[tip] < 0.5 * height:
            raise InputError(what=f"no {'left' if way > 0 else 'right'} hand was found", where="the body",
                             todo="Bring in a body that stands upright with its arms away from the trunk, or one with a skeleton.")
        along = dijkstra(graph, directed=False, indices=tip)
        arm = [  # middles of bands round it; the thumb, as far from the tip as the wrist, is farther from the crotch
            _middle(p[main & (np.abs(along - share * height) < 0.012 * height) & (away < reach[tip] - (share - 0.04) * height)
                      & (way * (p[:, 0] - middle) > 0.0)]) for share in (_WRIST, _ELBOW, _UPPER)]
        out[f"{side}_radiocarpal"], elbow = arm[0], arm[1]
        up = arm[2] - elbow
        out[f"{side}_elbow"] = elbow
        out[f"{side}_shoulder"] = elbow + _UPPER_ARM * height * up / max(float(np.linalg.norm(up)), 1e-9) + [0.0, 0.010 * height, 0.0]
        ankle = main & (np.abs(p[:, 1] - at(0.05)) < 0.012 * height) & (way * (p[:, 0] - middle) > 0.0)
        knee = main & (np.abs(p[:, 1] - at(0.28)) < 0.012 * height) & (way * (p[:, 0] - middle) > 0.0) & (along > 0.3 * height)
        toes = main & (p[:, 1] < at(0.03)) & (way * (p[:, 0] - middle) > 0.0)
        out[f"{side}_talocrural"], out[f"{side}_knee"] = _middle(p[ankle]) - [0, 0, 0.009 * height], _middle(p[knee])
        heading = (_middle(p[toes]) - out[f"{side}_talocrural"]) * [1, 0, 1]
        ball = out[f"{side}_talocrural"] + _FOOT * height * heading / max(float(np.linalg.norm(heading)), 1e-9)
        out[f"{side}_metatarsophalangeal"] = np.array([ball[0], at(0.012), ball[2]])
        thigh = main & (np.abs(p[:, 1] - (p[crotch, 1] - 0.03 * height)) < 0.012 * height) & (way * (p[:, 0] - middle) > 0.0)
        thigh &= along > 0.3 * height
        out[f"{side}_hip"] = _middle(p[thigh]) * [1, 0, 1] + [0.0, p[crotch, 1] + 0.071 * height, 0.0]
    neck = main & (np.abs(p[:, 1] - at(0.86)) < 0.012 * height) & (np.abs(p[:, 0] - middle) < 0.06 * height)
    chest = 0.5 * (out["l_shoulder"] + out["r_shoulder"])
    throat = _middle(p[neck])
    out["skullbase"] = np.array([middle, at(0.90), throat[2] - 0.004 * height])
    out["vt1"] = np.array([middle, at(0.835), 0.5 * (throat[2] + chest[2]) - 0.021 * height])
    out["vl5"] = 0.5 * (out["l_hip"] + out["r_hip"]) + [0.0, 0.050 * height, -0.015 * height]
    return out


def _crotch(p: np.ndarray, edges: np.ndarray, middle: float, at) -> int:
    """Return the lowest point whose edges cross the middle plane between a third and two thirds of the height."""
    a, b = p[edges[:, 0]], p[edges[:, 1]]
    crosses = ((a[:, 0] - middle) * (b[:, 0] - middle) <= 0) & (a[:, 1] > at(0.30)) & (a[:, 1] < at(0.62))
    if not crosses.any():
        raise InputError(what="no crotch was found", where="the body", todo="Bring in a body that stands upright with its legs apart.")
    return int(edges[crosses][np.argmin(a[crosses, 1]), 0])


def _middle(band: np.ndarray) -> np.ndarray:
    if len(band) < 3:
        raise InputError(what="a limb is too coarse to be read", where="the body", todo="Bring in a finer mesh, or one with a skeleton.")
    return 0.5 * (band.min(axis=0) + band.max(axis=0))
