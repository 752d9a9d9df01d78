"""A piece's part in clearing the whole outfit it is worn in: one cell after another, as correctives for their poses."""

import hashlib
from collections.abc import Callable, Sequence
from dataclasses import fields, is_dataclass

import numpy as np

from ...figure.base.body import Body, shaped
from ...memo import Memo
from ...model.state import Piece
from ...model.steps.clear import CellClearing
from ...model.worn import worn_points
from ...motion.pose import Pose
from ..clear_cells import Cell as ShapeInPose
from ..clear_cells import measure_cells
from ..layers import Layers
from .clear_outfit import clear_outfit

_KNOWN: Memo[list[Piece]] = Memo("outfits cleared", 192 * 2**20)
_ASIDE = ("reports", "brought", "trouble", "made_for")
"""What of a piece has no part in how it is cleared."""


def clear_together(piece: Piece, body: Body, cells: Sequence[ShapeInPose], ease: float, layers: Layers) -> tuple[Piece, list[CellClearing]]:
    """Return the piece as it is once the outfit it is worn in, between its `layers`, is cleared in `cells` (shape values (s,), pose), one
    after another, and a report per cell: its own figures before and after, and how it moved.

    Args:
        piece: The piece, bound.
        body: The body, in any shape.
        cells: Shape values (s,) and pose of each.
        ease: How far apart layers are brought, metres.
        layers: The pieces under it and over it.
    """
    worn, reports, at = [*layers.under, piece, *layers.over], [], layers.place
    for shape, pose in cells:
        before = worn
        worn = outfit_cleared(before, body, shape, pose, ease)
        first, last = (measure_cells(w[at], body, [(shape, pose)], Layers(tuple(w[:at]), tuple(w[at + 1 :])))[0] for w in (before, worn))
        wearer = shaped(body, shape)
        moved = np.linalg.norm(worn_points(worn[at], wearer, pose) - worn_points(before[at], wearer, pose), axis=1)
        reports.append(CellClearing(kept=last.area_cm2 < first.area_cm2 or not first.places, before=first.brief(), after=last.brief(),
                                    moved=int((moved > 1e-4).sum()), greatest_move=float(moved.max(initial=0.0))))
    return worn[at], reports


def outfit_cleared(pieces: Sequence[Piece], body: Body, shape: np.ndarray, pose: Pose, ease: float,
                   go_on: Callable[[], None] = lambda: None) -> list[Piece]:
    """Return an outfit, from the skin out, cleared in one cell; what does not change is the piece that was given. What `go_on` raises stops
    it on the way.

    Each piece of an outfit asks for the same: the last few answers are kept.

    Args:
        pieces: The pieces, from the skin out.
        body: The body, in any shape.
        shape: (s,) shape values.
        pose: The pose of the cell.
        ease: How far apart layers are brought, metres.
        go_on: Called between steps; what it raises ends the work.
    """
    hasher = hashlib.blake2b(digest_size=20)
    for part in (body.base, np.asarray(shape), pose.name, pose.rotations, ease, *pieces):
        _tell(hasher, part)

    def clear() -> list[Piece]:
        named = {str(i): p for i, p in enumerate(pieces)}
        made, changed = clear_outfit(named, body, shape, pose, ease, go_on)
        return [made[name] if name in changed else piece for name, piece in named.items()]

    return _KNOWN.of(hasher.digest(), clear)


def _tell(hasher, part) -> None:
    """Add what something comes to, arrays by what stands in them."""
    if isinstance(part, np.ndarray):
        hasher.update(f"{part.shape}{part.dtype}".encode())
        hasher.update(np.ascontiguousarray(part).data)
    elif is_dataclass(part):
        for each in fields(part):
            if each.name not in _ASIDE:
                _tell(hasher, getattr(part, each.name))
    elif isinstance(part, dict):
        for name in sorted(part):
            _tell(hasher, (name, part[name]))
    elif isinstance(part, (tuple, list)):
        for each in part:
            _tell(hasher, each)
    else:
        hasher.update(repr(part).encode())
