"""Keeping what has fallen: the piece and those that fell along with it, each as an edit of its own."""

from dataclasses import dataclass

import numpy as np

from ..core.bench.recipe import Recipe
from ..core.bench.steps.drape import kept_in
from ..core.errors import InputError
from ..core.figure.base.body import Body
from ..core.look.portrait import piece_portrait
from ..core.model.state import Piece
from ..core.model.steps.draping import Drape, steps_beside
from ..core.motion.pose import Pose
from ..formats.png import write_png
from ..store.db import Connection, run
from ..store.models import texture_addresses
from ..store.pieces import change_recipe, finish, piece_at


@dataclass(frozen=True)
class Fallen:
    """What a fall came to for a piece (its row): the piece before, its moves at rest `move` (n, 3), and those `beside` it, in the order in
    which the step has them along."""

    row: dict
    piece: Piece
    move: np.ndarray
    beside: tuple[np.ndarray, ...] = ()


def keep_fallen(connection: Connection, fallen: Fallen, step: Drape, body: Body, pose: Pose, report: dict, label: str,
                author: str) -> None:
    """Store the piece, and all that fell along with it, as they lie; each recipe gains the step that leads there. Raises `InputError` if
    one of them has been changed since."""
    every = run(connection, "pieces_of", production=fallen.row["production_id"])
    by_sha = {r["geometry_sha"]: r for r in every}
    missing = [a.piece for a in step.along if a.piece not in by_sha]
    if missing:
        raise InputError(what="a piece that falls with it has been changed meanwhile", where="the drape step", todo="Let them fall again.")
    _keep(connection, fallen.row, fallen.piece, step, body, pose, fallen.move, report, label, author)
    for along, own, move in zip(step.along, steps_beside(step, fallen.row["geometry_sha"]), fallen.beside, strict=True):
        if along.falls:
            _keep(connection, by_sha[along.piece], piece_at(along.piece), own, body, pose, move,
                  {**report, "fabric": own.fabric.name}, label, author)


def _keep(connection: Connection, row: dict, state: Piece, step: Drape, body: Body, pose: Pose, move: np.ndarray, report: dict, label: str,
          author: str) -> None:
    made = kept_in(state, body, pose, move, step.keep, report)
    recipe = Recipe.model_validate(row["recipe"])
    recipe = recipe.model_copy(update={"steps": (*recipe.steps, step)})
    edit = change_recipe(connection, row["id"], recipe, label, author, row["edit_id"])
    picture = write_png(piece_portrait(made.mesh, (96, 96)))
    finish(connection, row["id"], edit, made, picture, texture_addresses(connection, row["source_sha"]))
