"""Hunting for failures: the outfit in random poses on the cast and on mixes of it; a job a wearer, what fails is kept."""

import orjson
import structlog
from procrastinate import RetryStrategy
from psycopg.types.json import Jsonb

from ..core.clearance.cell import Dressed
from ..core.errors import HeronError
from ..core.figure.base.body import shape_values, shaped
from ..core.look.portrait import cell_portrait
from ..core.motion.own_poses import pose_for
from ..core.motion.random_poses import random_poses
from ..formats.png import write_png
from ..store.bodies import body_for
from ..store.db import one, put_blob, run, transaction
from ..store.events import notify
from ..store.pieces import piece_at
from .queue import app

log = structlog.get_logger()


@app.task(name="hunt_part", retry=RetryStrategy(max_attempts=3, wait=1))
def hunt_part(hunt: int, part: int) -> None:
    """Measure what is left of a part of a hunt, a wearer in seeded random poses. Safe to run twice; stops where it has been cancelled."""
    with transaction() as connection:
        row, mine = one(connection, "hunt", hunt=hunt), one(connection, "hunt_part", hunt=hunt, part=part)
    if row is None or mine is None:
        return
    try:
        body = body_for(mine["body_sha"], mine["shape"])
        pieces = orjson.loads(row["outfit"]).get(mine["body_sha"] or "", [])
        dressed = Dressed(shaped(body, shape_values(body, mine["shape"])), {name: piece_at(sha) for name, sha in pieces})
    except Exception as error:  # a hunt must never wait for a wearer that cannot be dressed
        if not isinstance(error, HeronError):
            log.exception("hunting failed", hunt=hunt, part=part)
        _tick(hunt, part, mine["poses"])
        return
    for place, pose in enumerate(random_poses(mine["poses"], row["seed"], row["share"])):
        if place < mine["done"]:
            continue
        with transaction() as connection:
            now = one(connection, "hunt", hunt=hunt)
        if now is None or now["state"] != "running":
            return
        turns = {j: [round(float(x), 6) for x in q] for j, q in pose.rotations.items()}
        cell = dressed.measure(pose_for(pose.name, turns), look_for_holes=True)  # as it is kept: told again, it comes to the same
        if not cell.figures["holds"]:
            picture = write_png(cell_portrait(dressed, cell, (180, 240), alpha=True))
            with transaction() as connection:
                sha = put_blob(connection, picture, "png")
                run(connection, "add_hunt_found", hunt=hunt, part=part, place=place, rotations=Jsonb(turns), figures=Jsonb(cell.figures),
                    picture=sha)
        _tick(hunt, part, place + 1)


def _tick(hunt: int, part: int, done: int) -> None:
    with transaction() as connection:
        run(connection, "hunt_progress", hunt=hunt, part=part, done=done)
        run(connection, "close_hunt_if_done", hunt=hunt)
        notify(connection, "hunt", hunt=hunt)
