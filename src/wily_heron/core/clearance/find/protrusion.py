"""How the vertices of an under-layer stand to the layer over it in a cell, and which of them no one can see past it."""

from dataclasses import dataclass

import numpy as np

from ...mesh.corners import any_corner, ringed
from ...space.tree import TriangleTree
from ..cover.cover import UNDER, Cover
from ..cover.rest_layer import BORDER
from .face_samples import cut, stand_out
from .incremental import Recall
from .shots import GLANCE


@dataclass(frozen=True)
class Standing:
    """Of one pair of layers, the covered vertices `rows` (r,) of the under-layer that were measured: by how much each stands out of the
    over-layer (r,) or lies under it (r,), in metres.

    `look` (t,) says which faces of the under-layer are to be looked at inside; `pierced` (t,) are those the one layer goes through the
    other at. `sealed` (n,) vertices lie so close beneath the over-layer, and so far from its openings, that no one sees them, nor the faces
    about them.
    """

    rows: np.ndarray
    stand: np.ndarray
    gap: np.ndarray
    look: np.ndarray
    pierced: np.ndarray
    sealed: np.ndarray

    def least(self) -> tuple[float, np.ndarray]:
        """Return the least gap (metres, 4 cm where nothing is near) and the vertex (1,) it is at, none where nothing is near."""
        under = np.flatnonzero((self.stand <= 0) & (self.gap < UNDER))
        if not len(under):
            return UNDER, np.zeros(0, np.int64)
        at = under[np.argmin(self.gap[under])]
        return float(self.gap[at]), self.rows[[at]]


def standing(under: TriangleTree, over: TriangleTree, cover: Cover, normal: np.ndarray, active: np.ndarray | None = None,
             recall: Recall | None = None) -> Standing:
    """Return how an under-layer with unit vertex normals (n, 3) stands to the layer over it, by their trees as they are in the cell.

    Only vertices `active` (n,) are measured, all if None. With `recall` only what has moved since is asked anew.
    """
    points, faces, corners = under.points, cover.faces, cover.corners
    rows = np.flatnonzero(cover.covered if active is None else cover.covered & active)
    if recall:
        recall.begin(points, normal, over)
        if active is not None:
            recall.forget_crossings()
    asking = recall.asking("vertices", rows, rows[:, None]) if recall else None
    stand, gap, room, _ = stand_out(points.take(rows, 0), normal.take(rows, 0), cover.spot.take(rows, 0), over, cover, asking)
    out = np.zeros(len(points), bool)
    out[rows] = stand > 0
    beneath = np.zeros(len(points), bool)
    beneath[rows] = (stand == 0) & (gap < UNDER)
    pierced = cut(under, over, cover, beneath, recall, active)
    look = pierced.copy()
    look[faces] |= any_corner(ringed(out, corners, 1), corners)  # one ring on: a face may be pierced between its corners
    loose = np.ones(len(points), bool)
    from_there = np.minimum(UNDER, GLANCE * (room + BORDER))  # one may look out past an edge of the cloth
    loose[rows] = (stand > 0) | (gap >= from_there)
    loose[under.triangles[pierced]] = True
    return Standing(rows, stand, gap, look, pierced, ~ringed(loose, corners, 1))
