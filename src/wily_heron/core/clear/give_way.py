"""Resolving one cell by the skin: it gives way under a piece that lies next to it, so that nothing bulks up."""

import numpy as np

from ..clearance.cell import CellResult, Dressed
from ..clearance.cover.cover import UNDER
from ..clearance.cover.key import SKIN, Key
from ..clearance.pair import Pair
from ..clearance.push import push_in
from ..figure.base.body import Body, shaped
from ..figure.base.skinning import blended_linear
from ..mesh.corners import ringed
from ..mesh.ops.capped import capped
from ..model.state import Piece
from ..model.steps.clear import CellClearing, CellFigures
from ..motion.pose import Pose, pose_matrices, posed_body
from .layer_pair import between
from .layers import ALONE, Layers

DEEP = 0.015
"""The skin gives way by no more than this (metres) at a time: enough for flesh, too little to show at the edge of a garment."""
DEEPEST = 0.025
"""It gives way by no more than this in all."""
_PASSES, _ROUNDS, _EDGE = 6, 3, 3
_NO_GAIN, _GAINS, _MUCH, _LOW = 2, 0.9, 10.0, -5.0
"""It ends after so many passes in a row that leave more than this share of the area, or after one if that leaves more than so much (cm2)
so low (mm): what lies over it is then deeper in it than it gives way."""

EASE = 0.003
"""Skin lies at least this far under what it gave way to (metres): less, and faces cross between their corners."""


def give_way(piece: Piece, body: Body, shape: np.ndarray, pose: Pose, ease: float = EASE,
             layers: Layers = ALONE, known: tuple[Dressed, CellResult] | None = None) -> tuple[np.ndarray, CellClearing]:
    """Return the move (n, 3) of the skin at rest by which it lies beneath the piece in one cell, and the report.

    Skin that is not covered stays where it is, and within three rings of it the move fades, so that no step shows at a hem. Where another
    piece lies between the two, that is for it. What only pieces farther out hide gives way as well: it may be seen through a slit. The
    best of six passes is kept, none if less does not show.

    Args:
        piece: The piece that the skin shows through.
        body: The body.
        shape: (s,) shape values of the cell.
        pose: The pose of the cell.
        ease: How far beneath the piece the skin is brought, metres.
        layers: What lies under the piece and over it.
        known: The wearer so dressed and the cell, where it is measured already.
    """
    wearer = shaped(body, shape)
    dressed = known[0] if known else layers.dress(wearer, piece)
    place, alone = layers.place, known and len(dressed.pieces) == 1
    key, hiding = Key(place, SKIN), (SKIN, place)
    if key not in dressed.covers:
        nothing = CellClearing(kept=True, why="it does not lie on the skin", before=_NOTHING, after=_NOTHING)
        return np.zeros_like(wearer.points, np.float64), nothing
    cell = begin = known[1] if known and alone else dressed.measure(pose, only={key}, recall=layers.recall, hiding=hiding)
    start = np.asarray(begin.body_points, np.float64)
    before = begin.pair(key)
    room = _room(before.cover.wider.covered, body.triangles)
    given = start - posed_body(wearer, pose)  # in earlier clearings
    moved, best, no_gain = np.zeros_like(start), (np.zeros_like(start), before), 0
    for _ in range(_PASSES):
        if not cell.pair(key).shows or no_gain >= _NO_GAIN:
            break
        moved = moved + push_in(between(dressed, cell, cell.pair(key)), ease, rounds=_ROUNDS) * room[:, None]
        moved = capped(given + capped(moved, DEEP), DEEPEST) - given
        cell = dressed.measure(pose, skin=start + moved, only={key}, recall=layers.recall, glance=True, hiding=hiding)
        now = cell.pair(key)
        gained = now.area_cm2 <= _GAINS * best[1].area_cm2
        deep = now.area_cm2 > _MUCH and now.clearance_mm < _LOW
        no_gain = 0 if gained else _NO_GAIN if deep else no_gain + 1
        if now.area_cm2 < best[1].area_cm2 and now.clearance_mm >= before.clearance_mm - 0.05:
            best = (moved, now)
    moved, after = best
    size = np.linalg.norm(moved, axis=1)
    at_rest = np.linalg.solve(blended_linear(body.skin, pose_matrices(wearer, pose)), moved[:, :, None])[:, :, 0]
    first = _brief(before)
    return at_rest, CellClearing(kept=bool(size.any()) or not first.places, before=first, after=_brief(after),
                                 moved=int((size > 1e-4).sum()), greatest_move=float(size.max(initial=0.0)))


_NOTHING = CellFigures(clearance_mm=1000 * UNDER, area_cm2=0.0, places=0)


def _brief(pair: Pair) -> CellFigures:
    return CellFigures(clearance_mm=pair.clearance_mm, area_cm2=pair.area_cm2, places=len(pair.found.places))


def _room(covered: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """Return how much each vertex (n,) may move, 0 to 1: not at all where it is not covered, all of it some rings in."""
    room = np.ones(len(covered))
    for ring in range(_EDGE - 1, -1, -1):
        room[ringed(~covered, triangles, ring)] = ring / _EDGE
    return room
