"""The share of a cloth's bending rigidity that falls to each edge, by the direction it runs in."""

import numpy as np
from scipy.optimize import nnls

_NODES, _WAYS = 12, 24


def by_direction(angle: np.ndarray, room: np.ndarray, area: float, along: tuple[float, float, float],
                 feels: np.ndarray) -> np.ndarray:
    """Return the rigidity (k,) of bends at `angle` (k,) from the warp, each with `room` (k,) m2 of its two faces, on a cloth of `area` m2.

    A bend stores half its rigidity times its room times the square of the curvature it feels: `feels` (k, 3) of a unit of curvature along
    it, across it and mixed. Together they store what an orthotropic sheet of `along` (warp, weft, mixed) does when bent in any one
    direction, as near as non-negative least squares comes on this mesh. Mixed is, by Huber, the geometric mean of both rigidities.
    Follows: Timoshenko & Woinowsky-Krieger, Theory of Plates and Shells, 1959, section 86, for the orthotropic plate.
    """
    at = np.mod(angle / np.pi, 1.0) * _NODES
    low = np.minimum(at.astype(int), _NODES - 1)
    high, part = (low + 1) % _NODES, at - low
    along_it, across_it, mixed = feels.T
    way = np.arange(_WAYS) * np.pi / _WAYS
    given = np.empty((_WAYS, _NODES))
    for w, a in enumerate(way):
        c, s = np.cos(a - angle), np.sin(a - angle)
        seen = (along_it * c * c + across_it * s * s + 2 * mixed * s * c) ** 2 * room / area
        given[w] = np.bincount(low, (1 - part) * seen, _NODES) + np.bincount(high, part * seen, _NODES)
    target = _whole(way, *along)
    usual = 8.0 / 9.0 * _whole(np.arange(_NODES) * np.pi / _NODES, *along)  # what springs in all directions alike would have
    rows = np.concatenate([given / target[:, None], np.diag(0.1 / usual)])
    found = nnls(rows, np.concatenate([np.ones(_WAYS), np.full(_NODES, 0.1)]))[0]
    return (1 - part) * found[low] + part * found[high]


def _whole(way: np.ndarray, warp: float, weft: float, mixed: float) -> np.ndarray:
    c, s = np.cos(way) ** 2, np.sin(way) ** 2
    return warp * c * c + 2 * mixed * c * s + weft * s * s
