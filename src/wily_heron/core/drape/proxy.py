"""The part of a body that cloth meets: coarse where that is near enough, fine in the creases."""

from dataclasses import dataclass

import numpy as np

from ..figure.base.body import Body, Wearer
from ..figure.base.pose_types import Pose
from ..figure.base.skinning import blend_rows
from ..figure.correctives import driven_values
from ..figure.figure import figure
from ..figure.kept import FIGURE
from ..memo import memoised
from ..space.tree import TriangleTree
from .turn import TURN

_OFF = 0.0008
"""Faces of the coarse body are kept where the fine one stands off by less than this (metres)."""


@dataclass(frozen=True)
class Proxy:
    """Vertices `rows` (k,) of a body and triangles (m, 3) over them."""

    rows: np.ndarray
    triangles: np.ndarray

    def at(self, wearer: Wearer, pose: Pose | None = None, matrices: np.ndarray | None = None) -> np.ndarray:
        """Return its points (k, 3) on a wearer at rest, or in a pose with the wearer's skin `matrices` in it."""
        if pose is None or matrices is None:
            return wearer.points[self.rows]
        body, values, out = wearer.body, driven_values(wearer.body, pose).astype(np.float32), np.empty((len(self.rows), 3), np.float32)
        used = np.flatnonzero(values)
        with TURN:
            blend_rows(self.rows, wearer.points, body.deltas, used, values[used], body.skin.joints, body.skin.weights, matrices, out)
        return out


def without(proxy: Proxy, gone: np.ndarray) -> Proxy:
    """Return a proxy less the faces all of whose vertices are `gone`, by the body's vertices (n,) bool."""
    return Proxy(proxy.rows, proxy.triangles[~gone[proxy.rows][proxy.triangles].all(axis=1)])


def proxy_of(body: Body) -> Proxy:
    """Return what cloth meets of a body: of the house's figure fewer faces than are drawn, of any other all."""
    fine = figure(2)
    if body.posed_like is not None or body.shapes != fine.shapes or len(body.base) < len(fine.base):
        return Proxy(np.arange(len(body.base)), body.triangles)
    own = _figure_proxy()
    if len(body.base) >= len(figure(3).base):
        return own
    grown = np.arange(len(fine.base), len(body.base))  # horns and tail come after the figure's own
    more = body.triangles[len(fine.triangles):] - len(fine.base) + len(own.rows)
    return Proxy(np.concatenate([own.rows, grown]), np.concatenate([own.triangles, more]).astype(np.int32))


@memoised(FIGURE)
def _figure_proxy() -> Proxy:
    coarse, fine = figure(1), figure(2)
    signed, _ = TriangleTree(coarse.base, coarse.triangles).signed_distance(fine.base)
    off = (np.abs(signed) > _OFF)[fine.triangles].reshape(-1, 8, 3).any(axis=(1, 2))  # a quad's two faces have become eight
    kept = coarse.triangles.reshape(-1, 2, 3)[~off].reshape(-1, 3)
    faces = np.concatenate([kept, fine.triangles.reshape(-1, 8, 3)[off].reshape(-1, 3)])
    rows, flat = np.unique(faces, return_inverse=True)
    return Proxy(rows.astype(np.int64), flat.reshape(-1, 3).astype(np.int32))
