"""Baking: a piece falls as cloth in one pose after the other, each kept as a corrective for its pose."""

import structlog
from procrastinate import RetryStrategy
from psycopg.types.json import Jsonb

from ..core.bench.recipe import Recipe
from ..core.bench.steps.drape import draping
from ..core.errors import HeronError
from ..core.model.steps.alteration import Cell
from ..core.model.steps.draping import Drape
from ..core.model.worn import rest_moves
from ..core.motion.own_poses import pose_for
from ..store import bakes as store
from ..store.arrays import bytes_piece
from ..store.bodies import body_for
from ..store.db import Connection, get_blob, one, run, transaction
from ..store.events import notify
from ..store.pieces import get_piece, piece_at
from ..store.poses import pose_of
from .keeping import Fallen, keep_fallen
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


def _as_it_stands(connection: Connection, sha: str) -> str:
    """Return the address of the piece stored under `sha` as it stands now: a pose that is done has changed it."""
    row = one(connection, "piece_of_geometry", sha=sha)
    return get_piece(connection, row["piece_id"])["geometry_sha"] if row else sha


def _one_pose(row: dict) -> bool:
    """Let the piece of a bake fall in the pose that is next, and keep it; return whether the bake is to go on."""
    with transaction() as connection:
        piece = get_piece(connection, row["piece_id"])
        pose = pose_of(connection, row["poses"][row["done"]]["name"])
        state = bytes_piece(get_blob(connection, piece["geometry_sha"]))
        along = [{**each, "piece": _as_it_stands(connection, each["piece"])} for each in row["step"].get("along", [])]
    recipe = Recipe.model_validate(piece["recipe"])
    rotations = {j: tuple(map(float, q)) for j, q in pose.rotations.items()} if pose.family == "own" else None
    step = Drape.model_validate({**row["step"], "along": along, "keep": "pose", "motion": "", "until": None,
                                 "cell": Cell.model_validate({"shape": row["step"]["cell"]["shape"], "pose": pose.name,
                                                              "rotations": rotations})})
    body = body_for(recipe.body, step.cell.shape)
    falling = draping(state, body, step, piece_at)
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
    move, *beside = (rest_moves(p, falling.wearer, stance, points)
                     for p, points in zip((state, *falling.along), (falling.points, *falling.beside), strict=True))
    with transaction() as connection:
        if not run(connection, "bake_done", bake=row["id"], done=row["done"], strain=Jsonb([told["strain_99"]])):
            return False
        label = f"Drape in {step.fabric.name}, {pose.label.lower()}"
        keep_fallen(connection, Fallen(piece, state, move, tuple(beside)), step, body, stance, told, label, row["author"])
        notify(connection, "bake", piece=row["piece_id"])
    return True
