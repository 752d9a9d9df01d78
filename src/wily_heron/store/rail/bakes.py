"""Bakes: drapes for a list of poses, as jobs that go on where they were."""

from collections.abc import Sequence
from typing import Literal

import numpy as np
from psycopg.types.json import Jsonb

from ...core.errors import InputError
from ...core.model.steps.draping import Drape
from ...formats.array_frame import pack, unpack
from ..db import Connection, Row, changed, number, numbers, row, run
from ..events import notify


class BakedPose(Row):
    """A pose of a bake: its name and what it is called."""

    name: str
    label: str


class BakeRow(Row):
    """A bake: `done` of its `poses` are kept, the next one is in `frame` of `frames`; `strain` is the 99th percentile of each that is
    done; `why` it failed; `checkpoint` holds the cloth of the pose under way."""

    id: int
    production: int
    piece: int
    step: Drape
    poses: list[BakedPose]
    author: str
    state: Literal["running", "done", "cancelled", "failed"]
    done: int
    frame: int
    frames: int
    checkpoint: bytes | None
    strain: list[float]
    why: str

    def cloth(self) -> dict[str, np.ndarray] | None:
        """Return the cloth of the last checkpoint of the pose under way, None at its beginning."""
        return unpack(self.checkpoint)[0] if self.checkpoint else None


def add_bake(connection: Connection, production: int, piece: int, step: Drape, poses: Sequence[BakedPose], frames: int, author: str) -> int:
    """Add a bake of a piece for poses; raises `InputError` while another of it is under way."""
    last = latest_bake(connection, piece)
    if last and last.state == "running":
        raise InputError(what="drapes of it are being baked already", where="the drape step", todo="Wait for them, or stop them first.")
    made = number(connection, "add_bake", production=production, piece=piece, step=Jsonb(step.model_dump(mode="json")),
                  poses=Jsonb([pose.model_dump() for pose in poses]), author=author, frames=frames)
    notify(connection, "bake", piece=piece)
    return made


def get_bake(connection: Connection, bake: int) -> BakeRow | None:
    """Return a bake, None if its piece is gone and it with it."""
    return row(connection, BakeRow, "bake", bake=bake)


def latest_bake(connection: Connection, piece: int) -> BakeRow | None:
    """Return the newest bake of a piece."""
    return row(connection, BakeRow, "latest_bake", piece=piece)


def running_bakes(connection: Connection) -> list[int]:
    """Return the bakes under way."""
    return numbers(connection, "running_bakes")


def go_on(connection: Connection, bake: BakeRow, frame: int, cloth: dict[str, np.ndarray] | None) -> bool:
    """Note the frame a bake has come to, with the cloth as a checkpoint if it is given; return whether it is to go on."""
    held = None if cloth is None else pack(cloth, {})
    going = changed(connection, "bake_frame", bake=bake.id, done=bake.done, frame=frame, checkpoint=held)
    if cloth is not None:
        notify(connection, "bake", piece=bake.piece)
    return going


def end_pose(connection: Connection, bake: BakeRow, strain: float) -> bool:
    """Note that one pose more is done, with its strain; return whether the bake was still under way."""
    going = changed(connection, "bake_done", bake=bake.id, done=bake.done, strain=Jsonb([strain]))
    notify(connection, "bake", piece=bake.piece)
    return going


def end_bake(connection: Connection, bake: BakeRow, state: Literal["cancelled", "failed"], why: str = "") -> None:
    """End a bake that is under way."""
    run(connection, "end_bake", bake=bake.id, state=state, why=why)
    notify(connection, "bake", piece=bake.piece)


def reopen_bake(connection: Connection, bake: int) -> None:
    """Let a bake that failed go on from its last pose."""
    run(connection, "reopen_bake", bake=bake)
    notify(connection, "bake")
