"""Baking: a piece falls as cloth in one pose after the other, each kept as a corrective for its pose."""

import structlog
from procrastinate import RetryStrategy
from psycopg.types.json import Jsonb

from ..core.errors import HeronError
from ..core.figure.own_poses import pose_for
from ..core.look.portrait import piece_portrait
from ..core.piece.alteration import Cell
from ..core.piece.draped_piece import draping, kept_in, rest_moves
from ..core.piece.draping import Drape
from ..core.piece.recipe import Recipe
from ..formats.png import write_png
from ..store import bakes as store
from ..store.arrays import bytes_piece
from ..store.bodies import body_for
from ..store.db import get_blob, one, run, tell, transaction
from ..store.models import texture_addresses
from ..store.pieces import change_recipe, finish, get_piece
from ..store.poses import pose_of
from .queue import app

log = structlog.get_logger()
_OFTEN = 12
"""Frames from one checkpoint to the next."""


@app.task(name="bake_drapes", retry=RetryStrategy(max_attempts=3, wait=1))
def bake_drapes(bake: int) -> None:
    """Bake what is left of a list of poses, from the last checkpoint on. Safe to run twice; stops where it has been cancelled."""
    while True:
        with transaction() as connection:
            row = one(connection, "bake", bake=bake)
        if row is None or row["state"] != "running":
            return
        try:
            if not _one_pose(row):
                return
        except Exception as error:  # a list must never wait for a pose that cannot be draped
            if not isinstance(error, HeronError):
                log.exception("baking failed", bake=bake)
            with transaction() as connection:
                store.end_bake(connection, row, "failed", str(error)[:300] or type(error).__name__)
            return


def _one_pose(row: dict) -> bool:
    """Let the piece of a bake fall in the pose that is next, and keep it; return whether the bake is to go on."""
    with transaction() as connection:
        piece = get_piece(connection, row["piece_id"])
        pose = pose_of(connection, row["poses"][row["done"]]["name"])
        state = bytes_piece(get_blob(connection, piece["geometry_sha"]))
    recipe = Recipe.model_validate(piece["recipe"])
    rotations = {j: tuple(map(float, q)) for j, q in pose.rotations.items()} if pose.family == "own" else None
    step = Drape.model_validate({**row["step"], "keep": "pose", "motion": "", "until": None,
                                 "cell": Cell.model_validate({"shape": row["step"]["cell"]["shape"], "pose": pose.name,
                                                              "rotations": rotations})})
    body = body_for(recipe.body, step.cell.shape)
    under = []
    for sha in step.over:
        with transaction() as connection:
            under.append(bytes_piece(get_blob(connection, sha)))
    falling = draping(state, body, step, under)
    held = store.checkpoint(row)
    if held is not None:
        falling.take_up(held)
    while falling.done < falling.frames:
        falling.frame()
        often = falling.done % _OFTEN == 0
        if often or falling.done == falling.frames:
            with transaction() as connection:
                if not store.go_on(connection, row, falling.done, falling.held() if often else None):
                    return False
    told, stance = falling.report(), pose_for(step.cell.pose, step.cell.rotations)
    made = kept_in(state, body, stance, rest_moves(state, falling.wearer, stance, falling.points), "pose", told)
    thumb = write_png(piece_portrait(made.mesh, (96, 96)))
    kept = recipe.model_copy(update={"steps": (*recipe.steps, step)})
    with transaction() as connection:
        if not run(connection, "bake_done", bake=row["id"], done=row["done"], strain=Jsonb([told["strain_99"]])):
            return False
        label = f"Drape in {step.fabric.name}, {pose.label.lower()}"
        edit = change_recipe(connection, row["piece_id"], kept, label, row["author"], piece["edit_id"])
        finish(connection, row["piece_id"], edit, made, thumb, texture_addresses(connection, piece["source_sha"]))
        tell(connection, "bake", piece=row["piece_id"])
    return True
