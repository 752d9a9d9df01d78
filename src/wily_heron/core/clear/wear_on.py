"""Wearing on: whether a piece holds on another wearer at rest, and what is done where it does not."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..figure.base.body import Body, shaped
from ..figure.base.pose_types import REST, Pose
from ..model.correctives import Corrective
from ..model.state import Piece
from ..model.steps.clear import CellClearing
from ..model.worn import at_rest
from ..space.tree import TriangleTree
from .clear import clear
from .clear_cells import measure_cells
from .layers import ALONE, Layers

_UNDER = 5e-4
_FEW = 0.001
_STRONG = 3


@dataclass(frozen=True)
class WornOn:
    """A piece on a wearer: `state` done, mended (it gained a corrective) or needs (an artist); the share of its vertices under the skin
    before and after, and why."""

    piece: Piece
    state: str
    under_before: float
    under_after: float
    why: str


def wear_on(piece: Piece, body: Body, shape: np.ndarray, ease: float = 0.004) -> WornOn:
    """Return the piece as it is worn at shape values (s,): as it follows, or with a corrective for that shape where it shows through.

    The corrective comes in with the wearer's strongest shapes, all at once; other wearers keep theirs.

    Args:
        piece: The piece, bound.
        body: The body, in any shape.
        shape: (s,) shape values.
        ease: How far apart layers are brought, metres.
    """
    before = share_under(piece, body, shape)
    if before <= _FEW:
        return WornOn(piece, "done", before, before, "")
    if piece.skin is None:
        return WornOn(piece, "needs", before, before, "it is not bound yet")
    eased, report = clear(piece, body, shape, REST, ease)
    change = shape - piece.made_at
    strongest = np.argsort(-np.abs(change))[:_STRONG]
    shapes = tuple((body.shapes[s], float(shape[s])) for s in strongest if abs(change[s]) > 0.05 and abs(shape[s]) > 0.05)
    if not report.kept or not shapes:
        return WornOn(piece, "needs", before, before, f"{100 * before:.1f} % of it lies under the skin and easing out does not clear it")
    move = (eased.mesh.points - piece.mesh.points)[None]
    fixes = move if piece.fixes is None else np.concatenate([piece.fixes, move])
    name = " + ".join(f"{n} {v:+.2g}" for n, v in shapes)
    made = replace(piece, correctives=(*piece.correctives, Corrective(name, shapes)), fixes=fixes.astype(np.float32))
    after = share_under(made, body, shape)
    if after >= before:
        return WornOn(piece, "needs", before, before, "a corrective for this wearer would not help")
    return WornOn(made, "mended" if after <= 5 * _FEW else "needs", before, after, "")


def clear_wearers(piece: Piece, body: Body, cells: Sequence[tuple[np.ndarray, Pose]], ease: float,
                  layers: Layers = ALONE) -> tuple[Piece, list[CellClearing]]:
    """Return the piece with a corrective for the wearer of each cell that calls for one (see `wear_on`), and a report per cell.

    Args:
        piece: The piece, bound.
        body: The body, in any shape.
        cells: Shape values (s,) and pose of each.
        ease: How far apart layers are brought, metres.
        layers: The pieces under it and over it.
    """
    reports = []
    for shape, pose in cells:
        before = measure_cells(piece, body, [(shape, pose)], layers)[0]
        got = wear_on(piece, body, shape, ease)
        after = measure_cells(got.piece, body, [(shape, pose)], layers)[0]
        piece = got.piece
        reports.append(CellClearing(kept=got.state != "needs", why=got.why or None, before=before.brief(), after=after.brief()))
    return piece, reports


def share_under(piece: Piece, body: Body, shape: np.ndarray) -> float:
    """Return the share of the piece's vertices more than half a millimetre under the skin at rest that were not where it was made.

    Args:
        piece: The piece, bound.
        body: The body, in any shape.
        shape: (s,) shape values.
    """
    there, here = shaped(body, shape), shaped(body, piece.made_at)
    under = TriangleTree(there.points, body.triangles).signed_distance(at_rest(piece, there))[0] < -_UNDER
    own = TriangleTree(here.points, body.triangles).signed_distance(at_rest(piece, here))[0] < -_UNDER
    return float((under & ~own).mean())
