"""Weights and morphs that came with a piece, put on the wearer's joints and shapes."""

import numpy as np

from ..errors import InputError
from ..figure.base.skeleton import Skeleton, Skin
from ..figure.base.skinning import strongest
from ..model.roles import find_roles
from ..model.state import Piece
from ..model.steps.bind import BindReport


def own_skin(piece: Piece, skeleton: Skeleton) -> tuple[Skin, BindReport]:
    """Return the piece's own weights on `skeleton`, and the report: a joint without a like goes to the nearest one above that has.

    Raises `InputError` where none came, or where hardly a joint of them is known here.
    """
    brought, rows = piece.brought, piece.mesh.received
    if brought is None or brought.skeleton is None or brought.skin is None or rows is None:
        raise InputError(what="no weights came with this piece", where="the bind step", todo="Take them from the body instead.")
    theirs = brought.skeleton
    role_of = {name: role for role, name in find_roles(theirs).items()}
    onto = np.full(len(theirs.names), -1)
    for j, name in enumerate(theirs.names):
        for candidate in (name, role_of.get(name), f"own_{name}"):
            if candidate in skeleton.names:
                onto[j] = skeleton.names.index(candidate)
                break
    known = onto >= 0
    for j in range(len(onto)):
        parent = int(theirs.parents[j])
        if onto[j] < 0:
            onto[j] = onto[parent] if parent >= 0 else 0
    if known.sum() < 2:
        raise InputError(what="its joints are unknown to this wearer", where="the bind step",
                         todo="Take the weights from the body instead.")
    dense = np.zeros((len(rows), len(skeleton.names)))
    at = np.repeat(np.arange(len(rows)), brought.skin.joints.shape[1])
    np.add.at(dense, (at, onto[brought.skin.joints[rows]].ravel()), brought.skin.weights[rows].ravel().astype(np.float64))
    skin = strongest(dense)
    used = np.unique(brought.skin.joints[brought.skin.weights > 0])
    moving = int((np.bincount(skin.joints.ravel(), skin.weights.ravel()) > 0).sum())
    return skin, BindReport(joints=moving, most=4, accepted=1.0, solved=0.0, own=True,
                            joints_unknown=[theirs.names[j] for j in used if not known[j]])


def own_moves(piece: Piece, shapes: tuple[str, ...], deltas: np.ndarray) -> tuple[np.ndarray, list[str]]:
    """Return `deltas` (s, n, 3) with the piece's own morphs where they bear the name of one of `shapes`, and those names.

    Args:
        piece: The piece, bound.
        shapes: Names of the body's shapes.
        deltas: (s, n, 3) metres, the moves found for them.
    """
    brought, rows = piece.brought, piece.mesh.received
    if brought is None or rows is None:
        return deltas, []
    kept, out = [], deltas
    for k, name in enumerate(brought.morphs):
        if name in shapes:
            out = out if kept else deltas.copy()
            out[shapes.index(name)] = brought.deltas[k][rows]
            kept.append(name)
    return out, kept
