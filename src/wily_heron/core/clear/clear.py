"""Resolving one cell: a piece eased out so that what lies under it no longer shows, or tucked in under what lies over it."""

from dataclasses import replace
from typing import Literal

import numpy as np
from scipy.spatial import KDTree

from ..clearance.cell import CellResult, Dressed
from ..clearance.cover.key import SKIN
from ..clearance.figures import OwnFigures
from ..clearance.find.incremental import Recalls
from ..clearance.pair import Pair, deepest_place, least_clearance
from ..clearance.push import CAP, push_in, push_out
from ..clearance.unfold import unfolded
from ..figure.base.body import Body, Wearer, shaped
from ..figure.base.skinning import blended_linear
from ..mesh.islands import islands
from ..mesh.ops.capped import capped
from ..model.state import Piece
from ..model.steps.clear import CellClearing
from ..model.worn import piece_matrices
from ..motion.pose import Pose, pose_matrices
from ..space.tree import TriangleTree
from ..space.tree_memo import tree_on
from .layer_pair import between
from .layers import ALONE, Layers, area_of

__all__ = ["CAP", "Baseline", "Way", "clear"]
Way = Literal["out", "in"]
_DEEPER = 0.05
"""A pair may get this much deeper (mm) for its area's sake; it is the noise of sampling."""
_FOLDED = 0.2
"""This much (cm2) may still show for the sake of cloth that does not go through itself."""
_ABOUT = 0.02
"""A piece is not moved within this (metres) of what its move has made deeper, if it shows less by it elsewhere."""
_PASSES, _ROUNDS, _FEW = 4, 8, 4


class Baseline:
    """A piece between its layers on a wearer in a pose, measured, and to be measured again as the piece is moved: `cell` is what it shows
    as it was left."""

    def __init__(self, wearer: Wearer, piece: Piece, pose: Pose, layers: Layers, known: tuple[Dressed, CellResult] | None = None) -> None:
        """`known` is the wearer so dressed and the whole cell, where it is measured already."""
        self.dressed, self._pose, self._layers = known[0] if known else layers.dress(wearer, piece), pose, layers
        self._recall = Recalls() if layers.recall is None else layers.recall
        outside = tuple(range(layers.place, len(self.dressed.pieces)))
        self._hiding = None if layers.under_matters or not layers.seen_through else outside
        self.cell = known[1] if known else self.again(None, glance=layers.recall is not None and self._hiding is None)

    def own(self) -> OwnFigures:
        """Return the figures of the cell that the piece has a part in."""
        return self._layers.own(self.cell, self.dressed)

    def again(self, points: np.ndarray | None, glance: bool = True) -> CellResult:
        """Return the cell with the piece at points (n, 3) or as it is worn, at a glance unless all is to be looked at anew."""
        moved = {} if points is None else {self._layers.place: points}
        return self.dressed.measure(self._pose, moved, recall=self._recall, only=self._layers.pairs, glance=glance, hiding=self._hiding)


def clear(piece: Piece, body: Body, shape: np.ndarray, pose: Pose, ease: float, layers: Layers = ALONE,
          way: Way = "out", baseline: Baseline | None = None, through: bool = True, brief: bool = False) -> tuple[Piece, CellClearing]:
    """Return the piece eased out, or tucked in, in one cell, and the report before and after.

    The smoothest displacement that clears it (see `push_out`), capped at 25 mm, is carried back to the rest shape through the inverse of
    each vertex's blended joint matrix. It is kept, as a whole or by region, only if the area of the pairs in question shrinks, their depth
    gets no worse, and all pairs that the piece has a part in show less together. Of up to four passes the best is kept; the one that shows
    least is tried again away from what it made deeper. Where the piece goes through itself it is moved less.

    Args:
        piece: The piece, bound.
        body: The body it is worn on.
        shape: (s,) shape values of the cell.
        pose: The pose of the cell.
        ease: How far apart layers are brought, metres.
        layers: What lies under it and over it.
        way: "out" off what lies under it, "in" beneath what lies over it.
        baseline: The cell as it was before, where it is measured already; it tells in the end what the cell shows.
        through: Whether the piece may go through itself on the way.
        brief: One pass alone, off skin that gives way to what is left.
    """
    if piece.skin is None:
        return piece, CellClearing(kept=False, why="the piece is not bound yet")
    if way == "in" and not layers.over:
        return piece, CellClearing(kept=False, why="nothing lies over it")
    wearer = shaped(body, shape)
    baseline = baseline or Baseline(wearer, piece, pose, layers)
    dressed, cell = baseline.dressed, baseline.cell
    begin = cell
    first = baseline.own()
    matrices = blended_linear(piece.skin, piece_matrices(piece, wearer, pose, pose_matrices(wearer, pose)))
    at, triangles = layers.place, piece.mesh.triangles
    outer = way == "out"
    start = np.asarray(cell.layers[at].points, np.float64)
    moved, best = np.zeros_like(start), (np.zeros_like(start), begin)
    least = best
    few = brief and outer and all(pair.key.under == SKIN for pair in cell.over(at))
    for _ in range(1 if few else _PASSES):  # a pass may lose ground on the way; what is kept is the best of them
        shows = any(pair.shows for pair in _asked(cell, at, outer))
        move = _move(dressed, cell, at, outer, ease, layers.under_matters, _FEW if few else _ROUNDS)
        if not shows or not move.any():
            break
        moved = capped(moved + move, CAP)
        if not through:
            moved = unfolded(start, moved, triangles)
        cell = baseline.again(start + moved)
        if _better(cell, begin, layers, outer) and _area(cell, layers) < _area(best[1], layers):
            best = (moved, cell)
        if _area(cell, layers) < _area(least[1], layers):
            least = (moved, cell)
    if least is not best and _area(least[1], layers) < _area(best[1], layers):  # less shows, but somewhere deeper
        moved = least[0] * _away_from_deeper(start + least[0], least[1], begin, at, outer)[:, None]
        moved = moved if through else unfolded(start, moved, triangles)
        cell = baseline.again(start + moved)
        if _better(cell, begin, layers, outer) and _area(cell, layers) < _area(best[1], layers):
            best = (moved, cell)
    if any(pair.shows for pair in _asked(best[1], at, outer)) and not few:
        for region in _regions(triangles, moved):
            tried = np.where(region[:, None], moved, best[0])
            after = baseline.again(start + tried)
            if _better(after, best[1], layers, outer):
                best = (tried, after)
    moved, cell = best
    if moved.any() and through:
        flat = unfolded(start, moved, triangles)
        if flat is not moved:
            after = baseline.again(start + flat)
            more = _area(after, layers) - _area(cell, layers)
            if _better(after, begin, layers, outer) and more <= _FOLDED:
                moved, cell = flat, after
    size = np.linalg.norm(moved, axis=1)
    if not size.any():
        return piece, CellClearing(kept=not first.places, before=first.brief(), after=first.brief())
    baseline.cell = cell if layers.recall is not None else baseline.again(start + moved, glance=False)
    rest_move = np.linalg.solve(matrices, moved[:, :, None])[:, :, 0]
    return replace(piece, mesh=piece.mesh.moved(piece.mesh.points + rest_move)), CellClearing(
        kept=True, before=first.brief(), after=baseline.own().brief(), moved=int((size > 1e-4).sum()), greatest_move=float(size.max()))


def _asked(cell: CellResult, at: int, outer: bool) -> list[Pair]:
    """Return the pairs that the move of the piece `at` its place is to clear: with what lies under it, or with what lies over it."""
    return [pair for pair in (cell.over(at) if outer else cell.under(at)) if pair.measured]


def _move(dressed: Dressed, cell: CellResult, at: int, outer: bool, ease: float, on_floor: bool, rounds: int) -> np.ndarray:
    """Return the displacement (n, 3) of one pass; what is tucked in stays over what is under it if that is its floor."""
    move: np.ndarray | None = None
    for pair in _asked(cell, at, outer):
        if pair.shows:
            here = between(dressed, cell, pair, move, inner=not outer)
            floors = _floors(dressed, cell, at) if on_floor and not outer else ()
            more = push_out(here, ease, rounds) if outer else push_in(here, ease, floors, rounds=rounds)
            move = more if move is None else move + more
    return np.zeros((len(cell.points_of(at)), 3)) if move is None else capped(move, CAP)


def _floors(dressed: Dressed, cell: CellResult, at: int) -> tuple[TriangleTree, ...]:
    """Return all that lies under a piece."""
    return tuple(tree_on(cell.points_of(pair.key.under), dressed.faces_of(pair.key.under)) for pair in cell.over(at))


def _away_from_deeper(points: np.ndarray, cell: CellResult, begin: CellResult, at: int, outer: bool) -> np.ndarray:
    """Return how much (n,) of its move each of the moved piece's points (n, 3) keeps: none about the places of pairs that are deeper than
    any was at the beginning, all of it from some way off."""
    before = deepest_place(_asked(begin, at, outer))
    deeper = [cell.points_of(pair.key.under)[place.vertices] for pair in _asked(cell, at, outer) for place in pair.found.places
              if 1000 * (place.depth - before) > _DEEPER]
    if not deeper:
        return np.ones(len(points))
    far, _ = KDTree(np.concatenate(deeper)).query(points)
    return np.clip((far - _ABOUT) / (2 * _ABOUT), 0.0, 1.0)


def _area(cell: CellResult, layers: Layers) -> float:
    return area_of(layers.own_pairs(cell))


def _better(after: CellResult, before: CellResult, layers: Layers, outer: bool) -> bool:
    """Whether the pairs in question show less and no deeper, and all the piece's pairs together no more and no deeper than before."""
    a, b = (_asked(cell, layers.place, outer) for cell in (after, before))
    if area_of(a) >= area_of(b) or least_clearance(a) < least_clearance(b) - _DEEPER:
        return False
    return _area(after, layers) < _area(before, layers) and _deepest(after, layers) >= _deepest(before, layers) - _DEEPER


def _deepest(cell: CellResult, layers: Layers) -> float:
    return min(0.0, least_clearance(layers.own_pairs(cell)))


def _regions(triangles: np.ndarray, move: np.ndarray) -> list[np.ndarray]:
    """The connected regions (masks (n,)) of a displacement (n, 3), greatest first: tried one by one when the whole fails."""
    busy = np.linalg.norm(move, axis=1) > 1e-5
    inner = triangles[busy[triangles].all(axis=1)]
    if not len(inner):
        return []
    count, label = islands(inner, len(move))
    size = np.bincount(label[busy], minlength=count)
    chosen = [i for i in np.argsort(-size) if size[i] > 3][:6]
    return [busy & (label == i) for i in chosen] if len(chosen) > 1 else []
