"""Drapes: keeping what has fallen, the piece and those that fell along with it, each as an edit of its own; and whole falls."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ...core.bench.steps.drape import kept_in
from ...core.errors import InputError
from ...core.figure.base.body import Body
from ...core.model.state import Piece
from ...core.model.steps.draping import Drape, DrapeReport, steps_beside
from ...core.motion.pose import Pose
from ...store.blobs.models import texture_addresses
from ...store.db import Connection, transaction
from ...store.rail import falls as store
from ...store.rail import pieces
from ...store.rail.falls import FallRow
from ...store.rail.pieces import PieceRow, piece_at
from .evaluating import thumb_of
from .standing import Standing


@dataclass(frozen=True)
class Fallen:
    """What a fall came to for a piece: its moves at rest `move` (n, 3), and those `beside` it, in the order in which the step has them
    along; the pose and the body it fell in and on, and what the fall reports."""

    of: Standing
    step: Drape
    body: Body
    pose: Pose
    move: np.ndarray
    beside: tuple[np.ndarray, ...]
    report: DrapeReport


def keep(fallen: Fallen, label: str, author: str) -> None:
    """Store the piece, and all that fell along with it, as they lie; see `keep_in`."""
    with transaction() as connection:
        keep_in(connection, fallen, label, author)


def keep_in(connection: Connection, fallen: Fallen, label: str, author: str) -> None:
    """Store the piece, and all that fell along with it, as they lie; each recipe gains the step that leads there.

    Raises `InputError` if one of them has been changed since.
    """
    row, step = fallen.of.row, fallen.step
    by_sha = {r.geometry: r for r in pieces.pieces_of(connection, row.production)}
    if any(a.piece not in by_sha for a in step.along):
        raise InputError(what="a piece that falls with it has been changed meanwhile", where="the drape step", todo="Let them fall again.")
    _keep(connection, row, fallen.of.piece, step, fallen, fallen.move, label, author)
    for along, own, move in zip(step.along, steps_beside(step, row.geometry or ""), fallen.beside, strict=True):
        if along.falls:
            report = fallen.report.model_copy(update={"fabric": own.fabric.name})
            own_fall = Fallen(fallen.of, own, fallen.body, fallen.pose, move, (), report)
            _keep(connection, by_sha[along.piece], piece_at(along.piece), own, own_fall, move, label, author)


def keep_fall(of: Standing, label: str, author: str, rest: Mapping[str, np.ndarray],
              frames: Sequence[tuple[Mapping[str, np.ndarray], dict[str, Any]]]) -> None:
    """Keep every frame of a fall, of the piece and of those that fell along with it: see `add_fall` of the store."""
    with transaction() as connection:
        store.add_fall(connection, of.row.id, of.row.geometry or "", label, author, rest, frames)


def falls_of(piece: int) -> tuple[PieceRow, list[FallRow]]:
    """Return a piece, and the whole falls that are kept of it, newest first."""
    with transaction() as connection:
        return pieces.get_piece(connection, piece), store.falls_of(connection, piece)


def fall_frames(fall: int) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    """Return a kept fall as arrays and notes. Raises `NotFound` if there is none."""
    with transaction() as connection:
        return store.fall_frames(connection, fall)


def drop_fall(fall: int) -> None:
    """Drop a kept fall. Raises `NotFound` if there is none."""
    with transaction() as connection:
        store.drop_fall(connection, fall)


def _keep(connection: Connection, row: PieceRow, state: Piece, step: Drape, own_fall: Fallen, move: np.ndarray, label: str,
          author: str) -> None:
    made = kept_in(state, own_fall.body, own_fall.pose, move, step.keep, own_fall.report)
    recipe = row.recipe.model_copy(update={"steps": (*row.recipe.steps, step)})
    number = pieces.change_recipe(connection, row.id, recipe, label, author, row.edit)
    edit = pieces.get_edit(connection, number)
    assert edit is not None
    pieces.finish(connection, edit, made, thumb_of(made), texture_addresses(connection, row.source))
