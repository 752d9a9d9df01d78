"""Measuring the trial sheet: a job a wearer, so that what can be kept between its cells is kept; what is measured stays if it stops."""

from collections.abc import Mapping, Sequence
from typing import Any

import structlog
from procrastinate import RetryStrategy
from psycopg.types.json import Jsonb

from ..core.clearance.cell import CellResult, Dressed
from ..core.clearance.find.shots import Shot
from ..core.clearance.trial import worst_frame
from ..core.errors import HeronError
from ..core.figure.base.body import shape_values, shaped
from ..core.look.portrait import cell_portrait
from ..core.motion.pose import Pose
from ..formats.png import write_png
from ..store.bodies import body_for
from ..store.db import Connection, one, put_blob, run, transaction
from ..store.events import notify
from ..store.motions import motion_of
from ..store.pieces import piece_at
from ..store.poses import pose_of
from ..store.shots import Kept, shots_in
from .keys import MOTION
from .queue import app

log = structlog.get_logger()


@app.task(name="measure_wearer", retry=RetryStrategy(max_attempts=3, wait=1))
def measure_wearer(trial: int, wearer: int, columns: list[str], pieces: list[list[str]], shots: Kept | None = None) -> None:
    """Measure those of a wearer's cells of a trial that are not measured yet, in the order of `columns`, draw and store each.

    `pieces` are (name, geometry) from the skin outwards, `shots` the production's. Safe to run twice; stops where the trial
    has been cancelled.
    """
    with transaction() as connection:
        who = one(connection, "wearer", wearer=wearer)
        open_ = {r["pose"] for r in run(connection, "open_cells_of", trial=trial, wearer=wearer)}
    dressed: Dressed | None = None
    for column in columns:
        if column not in open_ or who is None:
            continue
        with transaction() as connection:
            row = one(connection, "trial", trial=trial)
        if row is None or row["state"] != "running":
            return
        try:
            if dressed is None:
                body = body_for(who["body_sha"], who["shape"])
                dressed = Dressed(shaped(body, shape_values(body, who["shape"])), {name: piece_at(sha) for name, sha in pieces})
            cell = measured(dressed, column, shots_in(shots or [], wearer, column))
            picture = write_png(cell_portrait(dressed, cell, (180, 240), alpha=True))
        except Exception as error:  # a sheet must never wait for a cell that cannot be measured
            if not isinstance(error, HeronError):
                log.exception("measuring failed", trial=trial, wearer=wearer, column=column)
            with transaction() as connection:
                run(connection, "fail_cell", trial=trial, wearer=wearer, pose=column, error=str(error) or type(error).__name__)
                _close(connection, trial)
            continue
        with transaction() as connection:
            sha = put_blob(connection, picture, "png")
            run(connection, "finish_cell", trial=trial, wearer=wearer, pose=column, figures=Jsonb(cell.figures), picture=sha)
            _close(connection, trial)


def measured(dressed: Dressed, column: str, shots: Sequence[Shot] | None = None) -> CellResult:
    """Return the cell of a column: in its pose, or in the worst frame of its motion, which its figures then tell."""
    told: dict[str, Any] = {}
    if column.startswith(MOTION):
        with transaction() as connection:
            motion = motion_of(connection, column.removeprefix(MOTION))
        told["frame"], _ = worst_frame(dressed, motion)
        told["seconds"] = round(told["frame"] * motion.seconds, 3)
    pose = pose_of_column(column, told)
    cell = dressed.measure(pose, look_for_holes=True, shots=shots)
    if told:
        told["rotations"] = {j: [round(float(x), 5) for x in q] for j, q in pose.rotations.items()}
    cell.figures.update(told)
    return cell


def pose_of_column(column: str, figures: Mapping[str, Any]) -> Pose:
    """Return the pose that a cell of a column is measured in: the column's, or the frame of its motion that the `figures` tell."""
    with transaction() as connection:
        if not column.startswith(MOTION):
            return pose_of(connection, column)
        return motion_of(connection, column.removeprefix(MOTION)).pose(figures["frame"])


def _close(connection: Connection, trial: int) -> None:
    run(connection, "close_if_done", trial=trial)
    notify(connection, "trial", trial=trial)
