"""A piece as it is worn: on a wearer, in a pose."""

from collections.abc import Iterable, Mapping

import numpy as np

from ..figure.base.body import Wearer
from ..figure.base.skeleton import Skin
from ..figure.base.skinning import blended_linear, skin_points
from ..figure.correctives import driven_values, rest_points
from ..motion.pose import Pose, pose_matrices
from .correctives import corrective_values
from .riders import rider_matrices
from .state import Piece


def fix_values(piece: Piece, wearer: Wearer, rotations: Mapping[str, np.ndarray]) -> np.ndarray:
    """Return how much of each of the piece's correctives (c,) comes in on a wearer in a pose.

    Args:
        piece: The piece, bound.
        wearer: The body in its shape, at rest.
        rotations: Quaternions (x, y, z, w) by joint.
    """
    return corrective_values(piece.correctives, _settings(wearer), rotations, piece.examples)


def yield_values(piece: Piece, wearer: Wearer, rotations: Mapping[str, np.ndarray]) -> np.ndarray:
    """Return how much of each way in which the skin gives way under the piece (k,) comes in on a wearer in a pose.

    Args:
        piece: The piece, bound.
        wearer: The body in its shape, at rest.
        rotations: Quaternions (x, y, z, w) by joint.
    """
    correctives = piece.yields.correctives if piece.yields else ()
    return corrective_values(correctives, _settings(wearer), rotations, piece.examples)


def _settings(wearer: Wearer) -> dict[str, float]:
    return {n: float(v) for n, v in zip(wearer.body.shapes, wearer.shape, strict=True) if v}


def dressed_skin(pieces: Iterable[Piece], wearer: Wearer, pose: Pose) -> np.ndarray:
    """Return the body's rest vertices (n, 3) as `pose` shapes them and as they give way under pieces, before they are skinned."""
    points = rest_points(wearer, pose)
    for piece in pieces:
        if piece.yields is not None:
            points = points + piece.yields.whole(yield_values(piece, wearer, pose.rotations), len(points))
    return points


def at_rest(piece: Piece, wearer: Wearer, pose: Pose | None = None) -> np.ndarray:
    """Return the piece's points (n, 3) before they are skinned: shaped as the wearer, and as `pose` drives shapes and correctives."""
    shape = wearer.shape if pose is None else wearer.shape + driven_values(wearer.body, pose)
    points = piece.at(shape)
    if piece.fixes is None or not piece.correctives:
        return points
    values = fix_values(piece, wearer, {} if pose is None else pose.rotations)
    used = np.flatnonzero(np.abs(values) > 1e-6)
    if not len(used):
        return points
    return points + np.tensordot(values[used].astype(np.float32), piece.fixes[used], axes=1)


def rider_change(piece: Piece, wearer: Wearer, pose: Pose) -> np.ndarray:
    """Return how far the shape values (s,) that move the piece's riders are from those it was made at."""
    return wearer.shape + driven_values(wearer.body, pose) - piece.made_at


def piece_matrices(piece: Piece, wearer: Wearer, pose: Pose, matrices: np.ndarray) -> np.ndarray:
    """Return the skin matrices `(j + r, 4, 4)`: the wearer's `matrices` in the pose, then those of the piece's own riders.

    A body may have grown joints (a tail) past those that the piece was bound to; they bear none of it.

    Args:
        piece: The piece, bound.
        wearer: The body in its shape, at rest.
        pose: Local rotations by joint.
        matrices: (j, 4, 4) skin matrices of the pose, where they are at hand.
    """
    if piece.riders is None:
        return matrices
    own = rider_matrices(piece.riders, rider_change(piece, wearer, pose), matrices)
    return np.concatenate([matrices[: piece.riders.first], own])


def worn_points(piece: Piece, wearer: Wearer, pose: Pose, matrices: np.ndarray | None = None, rows: np.ndarray | None = None) -> np.ndarray:
    """Return the piece's points (n, 3), or only its `rows` (r,), on a wearer in a pose; a piece that is not bound stays at rest.

    `matrices` are the wearer's in that pose where they are at hand.

    Args:
        piece: The piece, bound.
        wearer: The body in its shape, at rest.
        pose: Local rotations by joint.
        matrices: (j, 4, 4) skin matrices of the pose, where they are at hand.
        rows: (r,) int, rows of points.
    """
    if piece.skin is None:
        return piece.at(wearer.shape) if rows is None else piece.at(wearer.shape)[rows]
    known, rest, skin = pose_matrices(wearer, pose) if matrices is None else matrices, at_rest(piece, wearer, pose), piece.skin
    if rows is not None:
        rest, skin = rest[rows], Skin(skin.joints[rows], skin.weights[rows])
    return skin_points(rest, skin, piece_matrices(piece, wearer, pose, known))


def rest_moves(state: Piece, wearer: Wearer, pose: Pose, points: np.ndarray) -> np.ndarray:
    """Return the moves at rest (n, 3) that take a bound piece to `points` (n, 3) on a wearer in a pose.

    Args:
        state: The piece as it stands.
        wearer: The body in its shape, at rest.
        pose: Local rotations by joint.
        points: (n, 3) float, metres.
    """
    assert state.skin is not None
    matrices = pose_matrices(wearer, pose)
    linear = blended_linear(state.skin, piece_matrices(state, wearer, pose, matrices))
    off = points - worn_points(state, wearer, pose, matrices)
    return np.linalg.solve(linear, off[:, :, None])[:, :, 0]
