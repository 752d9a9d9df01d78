"""Bakes: drapes for a list of poses, as jobs that go on where they were."""

from typing import Any

import numpy as np
from psycopg.types.json import Jsonb

from ..core.errors import InputError
from ..core.model.steps.draping import Drape
from .arrays import pack, unpack
from .db import Connection, one, run
from .events import notify


def add_bake(connection: Connection, production: int, piece: int, step: Drape, poses: list[dict], frames: int, author: str) -> int:
    """Add a bake of a piece for poses (`name`, `label`); raises `InputError` while another of it is under way."""
    last = one(connection, "latest_bake", piece=piece)
    if last and last["state"] == "running":
        raise InputError(what="drapes of it are being baked already", where="the drape step", todo="Wait for them, or stop them first.")
    made = run(connection, "add_bake", production=production, piece=piece, step=Jsonb(step.model_dump(mode="json")), poses=Jsonb(poses),
               author=author, frames=frames)[0]["id"]
    notify(connection, "bake", piece=piece)
    return made


def go_on(connection: Connection, row: dict[str, Any], frame: int, cloth: dict[str, np.ndarray] | None) -> bool:
    """Note the frame a bake has come to, with the cloth as a checkpoint if it is given; return whether it is to go on."""
    held = None if cloth is None else pack(cloth, {})
    going = bool(run(connection, "bake_frame", bake=row["id"], done=row["done"], frame=frame, checkpoint=held))
    if cloth is not None:
        notify(connection, "bake", piece=row["piece_id"])
    return going


def checkpoint(row: dict[str, Any]) -> dict[str, np.ndarray] | None:
    """Return the cloth of the last checkpoint of the pose under way, None at its beginning."""
    return unpack(bytes(row["checkpoint"]))[0] if row["checkpoint"] else None


def end_bake(connection: Connection, row: dict[str, Any], state: str, why: str = "") -> None:
    """End a bake that is under way."""
    run(connection, "end_bake", bake=row["id"], state=state, why=why)
    notify(connection, "bake", piece=row["piece_id"])
