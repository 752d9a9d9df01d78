"""Open borders of an outfit that clearing has led beneath what they lay over, lifted again."""

from collections.abc import Iterator

import numpy as np

from ...clearance.cell import CellResult, Dressed
from ...clearance.cover.cover import AGREE, UNDER, WIDER
from ...clearance.cover.rest_layer import RestLayer
from ...clearance.cover.samples import SPLIT, on_faces
from ...clearance.push import CAP, spread_move
from ...mesh.corners import any_corner, ringed
from ...mesh.ops.capped import capped
from ...mesh.topology import topology_of
from ...model.worn import rest_moves
from ...space.tree import TriangleTree
from ...space.tree_memo import tree_on
from ..pose_fix import with_fix
from .outfit_ways import CellContext, Measurement, Worn, giving_way, sparing

_OVER = 5e-4
"""A border is lifted to so much (metres) over what lies under it."""
_RINGS = 6
_MORE = 0.02
"""For a border's sake so much more (cm2) may show elsewhere."""


def borders_lifted(context: CellContext, worn: Worn, known: Measurement, start: CellResult, fallen: set[str]) -> tuple[Worn, Measurement]:
    """Return the cleared outfit with its open borders over all they lay over at the `start`, and its cell.

    Nothing is measured within the margin of an open border, so nothing there stops a tuck or makes what is under it follow. A border that
    has sunk is lifted by the smoothest move, from the innermost piece out; what shows for that is eased out, or gives way. All of it is
    kept if the cell shows no more than before. What has `fallen` stays so.
    """
    cell = known[1]
    lifted = _lifted(context, worn, known, start, fallen)
    if lifted is None:
        return worn, known
    then = context.measured(lifted)
    for ease_out in (sparing, giving_way):
        if _as_good(then[1], cell):
            return lifted, then
        lifted, moved, _, after = ease_out(context, lifted, fallen, then)
        then = (after or context.measured(lifted)) if moved else then
    return (lifted, then) if _as_good(then[1], cell) else (worn, known)


def _as_good(after: CellResult, before: CellResult) -> bool:
    holds = after.figures.holds or not before.figures.holds
    return holds and after.figures.area_cm2 <= before.figures.area_cm2 + _MORE


def _lifted(context: CellContext, worn: Worn, known: Measurement, start: CellResult, fallen: set[str]) -> Worn | None:
    """Return the outfit with the borders lifted that have sunk, none if none has. Cloth that fell hangs as it does."""
    dressed, cell = known
    points = {place: np.asarray(cell.points_of(place), np.float64) for place in range(-1, len(worn))}
    lifted = dict(worn)
    for place, (name, piece) in enumerate(worn.items()):
        move = None if piece.skin is None or name in fallen else _lift(dressed, cell, start, points, place)
        if move is None:
            continue
        begin = np.asarray(start.points_of(place), np.float64)
        points[place] = begin + capped(points[place] + move - begin, CAP)
        moves = rest_moves(piece, context.wearer, context.pose, points[place])
        lifted[name] = with_fix(piece, context.body, context.pose, moves, context.pose.label)
    return None if all(lifted[name] is piece for name, piece in worn.items()) else lifted


def _lift(dressed: Dressed, cell: CellResult, start: CellResult, points: dict[int, np.ndarray], place: int) -> np.ndarray | None:
    """Return the move (n, 3) that lifts the borders of a piece, None where none has sunk."""
    piece = dressed.pieces[place]
    strip = RestLayer(dressed.rest[place], piece.shown).room < WIDER
    faces = piece.mesh.triangles[any_corner(strip, piece.mesh.triangles)]
    below = list(_below(dressed, cell, start, points, place, faces))
    if not len(faces) or not below:
        return None
    mesh = topology_of(piece.mesh.triangles, len(strip))

    def short(p: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        lack, way = np.zeros(len(p)), np.zeros((len(p), 3))
        at, facing = on_faces(p, faces, SPLIT)
        for tree, outward, was_over in below:
            depth, up = _depth(at, outward * facing, tree)
            sunk = np.flatnonzero(was_over & (depth > 0))
            for corner in faces.T:
                rows = corner[sunk // len(SPLIT)]
                order = np.argsort(depth[sunk])
                more = depth[sunk][order] + _OVER > lack[rows[order]]
                lack[rows[order][more]], way[rows[order][more]] = depth[sunk][order][more] + _OVER, up[sunk][order][more]
        return lack, way

    if not short(points[place])[0].any():
        return None
    return spread_move(points[place], mesh, ringed(strip, piece.mesh.triangles, _RINGS), CAP, short)


def _below(dressed: Dressed, cell: CellResult, start: CellResult, points: dict[int, np.ndarray], place: int,
           faces: np.ndarray) -> Iterator[tuple[TriangleTree, float, np.ndarray]]:
    """Yield each layer under a piece as it is now, which way is out, and which places (q,) on the border's `faces` were over it at the
    start."""
    at, facing = on_faces(np.asarray(start.points_of(place), np.float64), faces, SPLIT)
    for pair in cell.over(place):
        under, outward = pair.key.under, pair.cover.outward
        before, _ = _depth(at, outward * facing, tree_on(start.points_of(under), dressed.faces_of(under)))
        yield tree_on(points[under], dressed.faces_of(under)), outward, before <= 0


def _depth(points: np.ndarray, facing: np.ndarray, under: TriangleTree) -> tuple[np.ndarray, np.ndarray]:
    """Return how far (q,) points lie beneath the layer under them, nothing where they lie over it or it is not near, and the way up."""
    near = under.nearest(points, facing=facing, agree=AGREE, limit=0.5 * UNDER)
    up = under.normals[np.maximum(near.triangle, 0)]
    beneath = (near.triangle >= 0) & (np.einsum("qa,qa->q", points - near.point, up) < 0)
    return np.where(beneath, near.distance, 0.0), up
