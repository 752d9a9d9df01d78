"""What a cleared outfit has more of pieces that go through themselves, taken back or smoothed out in the end."""

from collections.abc import Mapping

import numpy as np
from scipy.sparse.csgraph import connected_components

from ...clearance.cell import CellResult
from ...clearance.cover.key import SKIN
from ...mesh.corners import corners_of, ringed
from ...mesh.topology import topology_of
from ...model.state import Piece
from ...space.crossings import OwnCrossings
from ...space.tree import TriangleTree
from ...space.tree_memo import tree_on
from ..fall.hanging_cloth import Hanging
from ..pose_fix import lessened, with_fix
from .outfit_ways import CellContext, Worn

_SHARES = (0.95, 0.9, 0.8, 0.6, 0.6, 0.6, 0.6, 0.0, 0.0, 0.0)
"""So much of what is left of its way each patch goes, round by round."""


def off_themselves(context: CellContext, worn: Worn, cell: CellResult, pieces: Mapping[str, Piece], start: CellResult,
                   fallen: set[str]) -> Worn:
    """Return the outfit as it is worn in a measured cell, with what goes through itself more than it did in `pieces` moved less far about
    there, smoothed out where it has `fallen`; if the cell holds then, or shows no more."""
    made = dict(worn)
    for i, (name, was, now) in enumerate(zip(worn, start.layers, cell.layers, strict=True)):
        piece = worn[name]
        if piece is pieces[name] or not _more(was.points, now.points, piece.mesh.triangles):
            continue
        if name in fallen:
            move = Hanging(piece, context.wearer, context.pose).opened(was.points, _floor(context, worn, cell, i))
            made[name] = with_fix(piece, context.body, context.pose, move, context.pose.label)
        else:
            made[name] = lessened(piece, pieces[name], context.body, context.pose, apart(was.points, now.points, piece.mesh.triangles))
    if all(made[n] is worn[n] for n in worn):
        return worn
    after = context.measured(made)[1].figures
    return made if after.holds or after.area_cm2 <= cell.figures.area_cm2 else worn


def _floor(context: CellContext, worn: Worn, cell: CellResult, place: int) -> TriangleTree:
    """Return one tree of all that lies under the piece at `place`, the skin if nothing else does."""
    under = [pair.key.under for pair in cell.over(place)] or [SKIN]
    faces = {SKIN: context.body.triangles} | {i: piece.mesh.triangles for i, piece in enumerate(worn.values())}
    if len(under) == 1:
        return tree_on(cell.points_of(under[0]), faces[under[0]])
    points = [np.asarray(cell.points_of(i), np.float64) for i in under]
    begin = np.cumsum([0, *map(len, points)])
    return TriangleTree(np.concatenate(points), np.concatenate([faces[i] + at for i, at in zip(under, begin, strict=False)]))


def _more(start: np.ndarray, end: np.ndarray, triangles: np.ndarray) -> bool:
    edges, tree = topology_of(triangles, len(start)).edges, tree_on(end, triangles)
    after = int(tree.pierced(edges).sum())
    return after > 0 and after > int(tree.refit(start).pierced(edges).sum())


def apart(start: np.ndarray, end: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return how much (n,) of their way from `start` (n, 3) to `end` (n, 3) points may go for no more triangles to lie through the piece.

    Patch by patch, the least first, what lies about faces newly gone through, and about the edges that go through them, goes a little
    less far, and less, in the end nowhere; a patch is left as it is if more lie through the piece for it. All edges are asked.

    Args:
        start: (n, 3) float, metres.
        end: (n, 3) float, metres.
        triangles: (m, 3) int32.
    """
    mesh, crossings = topology_of(triangles, len(start)), OwnCrossings(start, triangles)
    before, share = crossings.at(start), np.ones(len(start))
    for less in _SHARES:
        after = crossings.at(start + share[:, None] * (end - start))
        crossed = corners_of(after & ~before, triangles, len(start))
        crossed[crossings.through(after & ~before)] = True
        about = ringed(crossed, triangles, 1).astype(float)
        about = 0.5 * (about + mesh.mean @ about)
        rows = np.flatnonzero(about)
        _, patch = connected_components(mesh.near[rows][:, rows], directed=False)
        for k in np.argsort(np.bincount(patch), kind="stable"):
            if after.sum() <= before.sum():
                return share
            mine, tried = rows[patch == k], share.copy()
            tried[mine] *= 1.0 - (1.0 - less) * about[mine]
            now = crossings.at(start + tried[:, None] * (end - start))
            if now.sum() <= after.sum():
                share, after = tried, now
    return share
