"""What cloth falls on: a moving body, with the pieces under the cloth."""

import numpy as np

from ..mesh.edges import unique_edges
from ..mesh.normals import vertex_normals
from ..space.tree import TriangleTree
from .kernels import near_kernels
from .kernels.sheet_kernels import across_sides
from .kernels.simd4 import rows_of_four
from .turn import TURN

REACH = 0.025
"""Cloth farther off than this (metres), and what it can move before it is looked for again, touches nothing."""
SEEN = 0.05
_PINCH = 0.012
_NEARER = 0.9
"""What lies elsewhere counts once it is nearer than this share of what lies along the surface from the triangle known: on round flesh much
is nearly as near, and to tell it all apart takes most of the time."""


class Collider:
    """Triangles (m, 3) that move from one frame's points (k, 3) to the next's."""

    def __init__(self, points: np.ndarray, triangles: np.ndarray) -> None:
        self.triangles = np.ascontiguousarray(triangles, np.int32)
        self._used = np.unique(self.triangles)  # points of no face may stand anywhere
        edges, sides = unique_edges(self.triangles)
        self.across, _ = across_sides(sides, len(edges))
        self._boxes = TriangleTree(points, self.triangles)
        self.tree = self._boxes.arrays
        self.start = self.stop = self._between = np.ascontiguousarray(points, np.float64)
        self.start_normals = self.stop_normals = vertex_normals(self.start, self.triangles)
        self._fitted = 1.0
        self.drift, self._move = np.zeros(3), np.zeros(len(self.triangles))
        self.way, self.normals = rows_of_four(2 * len(points)), rows_of_four(len(points))
        self.way[::2, :3] = self.start

    def go_to(self, points: np.ndarray) -> None:
        """Begin a frame that ends with the body at `points` (k, 3), on the whole moved by `drift` (3,): what else moves, moves besides."""
        self.start, self.start_normals, self._fitted = self.stop, self.stop_normals, self._fitted - 1.0
        self.stop = np.ascontiguousarray(points, np.float64)
        self.stop_normals = np.empty_like(self.stop)
        with TURN:
            self.drift = near_kernels.go_to(self.start, self.stop, self._used, self.triangles, self.way, self.stop_normals, self._move)

    def turn(self, t: float) -> None:
        """Take the body's `normals` (k, 4) as they are at time `t` of the frame."""
        near_kernels.between(self.start_normals, self.stop_normals, t, self.normals)

    def at(self, t: float) -> np.ndarray:
        """Return the body's points (k, 3) at time `t` of the frame, with `tree` made to fit them."""
        if t != self._fitted:
            self._between = self.start if t == 0.0 else self.stop if t == 1.0 else np.empty_like(self.start)
            if 0.0 < t < 1.0:
                near_kernels.between(self.start, self.stop, t, self._between)
            near_kernels.fit(self._between, self.triangles, self.tree)
            self._fitted = t
        return self._between

    def tree_at(self, points: np.ndarray) -> TriangleTree:
        """Return a tree of its triangles at other points (k, 3), to ask what cloth does not."""
        return self._boxes.again(points)

    @property
    def still(self) -> bool:
        """Whether nothing of it moves in this frame."""
        return bool(np.abs(self.stop - self.start).max() < 1e-6)

    def to_ask(self, v: np.ndarray, seconds: float, turn: int, near: np.ndarray, idle: np.ndarray, far: np.ndarray, about: np.ndarray,
               moves: np.ndarray) -> np.ndarray:
        """Return the vertices (r,) that are to look anew in a frame of so many `seconds`; see the kernel."""
        return near_kernels.to_ask(v, near, idle, self._move, seconds, self.drift, turn, REACH, far, about, moves)

    def look(self, x: np.ndarray, t: float, reach: np.ndarray, known: np.ndarray, near: np.ndarray, facing: np.ndarray,
             rows: np.ndarray) -> np.ndarray:
        """At time `t` of the frame find for the vertices `rows` (r,) of x (n, 4) the nearest triangle within `reach` (n,) metres, and where
        that is near, the nearest that faces the other way, into `near` and `facing` (n,), -1 for none; return how far (r,) metres it is to
        the body at least, looked for `SEEN` farther than the reach. `known` (n,) are the triangles found before, -1 for none."""
        least = np.empty(len(rows))
        near_kernels.look(x, self.at(t), self.triangles, self.across, known, near, facing, rows, reach, SEEN, _NEARER, _PINCH, self.tree,
                          least)
        return least
