"""Parts of a piece that keep their form: found, named, and given joints of their own to ride on."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.spatial import KDTree

from ..figure.base.skeleton import Skin
from ..mesh.islands import islands
from ..mesh.loops import border_loops
from ..mesh.rigid_islands import stiff_islands
from ..model.riders import Riders
from .weight_kernels import keep_greatest


@dataclass(frozen=True)
class Part:
    """A loose part of a piece: its vertices, what it looks like (button, buckle, plate, cloth), and whether it keeps its form."""

    rows: np.ndarray
    name: str
    rigid: bool

    def size(self, points: np.ndarray) -> float:
        """Return its greatest extent in metres."""
        return float(np.ptp(points[self.rows], axis=0).max())


def find_parts(points: np.ndarray, triangles: np.ndarray, rigid: Sequence[int] = (), cloth: Sequence[int] = ()) -> list[Part]:
    """Return the loose parts of a piece, the largest first; `rigid` and `cloth` are vertices of parts that the artist says it of.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        rigid: Rows of vertices of parts that keep their form.
        cloth: Rows of vertices of parts that bend.
    """
    count, label = islands(triangles, len(points))
    still = stiff_islands(points, triangles)
    loops = np.bincount([int(label[loop[0]]) for loop in border_loops(triangles)], minlength=count)
    out = []
    for k in range(count):
        rows = np.flatnonzero(label == k)
        says = np.isin(rows, rigid).any() or (still[rows[0]] and not np.isin(rows, cloth).any())
        extent = np.sort(np.ptp(points[rows], axis=0))
        name = "cloth"
        if says:
            flat, round_ = extent[0] < 0.5 * extent[1], extent[1] > 0.75 * extent[2]
            name = "buckle" if loops[k] >= 2 else "button" if round_ and extent[2] < 0.04 else "plate" if flat else "stud"
        out.append(Part(rows, name, bool(says)))
    return out


def ride(points: np.ndarray, parts: Sequence[Part], dense: np.ndarray, shapes: int, alone: bool) -> tuple[np.ndarray, Riders | None]:
    """Return for every vertex the rider it goes with (n,), -1 for none, and the riders: one to each rigid part.

    A rider takes the mean of the weights `dense` (n, j) of the cloth about the part's middle; `alone` leaves it one joint, the greatest.
    """
    of = np.full(len(points), -1)
    stiff = [part for part in parts if part.rigid]
    carrier = np.concatenate([part.rows for part in parts if not part.rigid] or [np.zeros(0, np.int64)])
    if not stiff or not len(carrier):
        return of, None
    tree = KDTree(points[carrier])
    places, weights = np.empty((len(stiff), 3)), np.empty((len(stiff), dense.shape[1]))
    for r, part in enumerate(stiff):
        of[part.rows] = r
        places[r] = points[part.rows].mean(axis=0)
        _, near = tree.query(places[r], k=min(8, len(carrier)))
        weights[r] = dense[carrier[np.atleast_1d(near)]].mean(axis=0)
    joints, shares = np.empty((len(stiff), 4), np.int32), np.empty((len(stiff), 4), np.float32)
    keep_greatest(weights, 4, joints, shares)
    if alone:
        shares[:] = [1.0, 0.0, 0.0, 0.0]
        joints[:, 1:] = 0
    still = np.zeros((shapes, len(stiff), 3), np.float32)
    return of, Riders(places, still, Skin(joints, shares), np.full(len(stiff), -1, np.int64), places.copy(), dense.shape[1])
