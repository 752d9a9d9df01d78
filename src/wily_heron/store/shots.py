"""The production's shots: kept, and chosen for a cell."""

from collections.abc import Sequence
from typing import Any

import orjson
from psycopg.types.json import Jsonb

from ..core.clearance.find.shots import Shot
from ..core.errors import InputError, NotFound
from .db import Connection, run
from .events import notify

Kept = list[dict[str, Any]]
"""Shots as rows: `id`, `camera` as JSON, `wearer_id` and `pose` where the shot shows only those."""


def shots_of(connection: Connection, production: int) -> Kept:
    """Return the production's shots, oldest first."""
    return run(connection, "shots_of", production=production)


def shots_in(kept: Kept, wearer: int | None, column: str) -> list[Shot] | None:
    """Return the shots that show a cell of the sheet, None where the production has none at all."""
    if not kept:
        return None
    mine = [s for s in kept if s["wearer_id"] in (None, wearer) and s["pose"] in (None, column)]
    return [Shot.model_validate(s["camera"]) for s in mine]


def shots_key(kept: Kept, wearer: int, column: str) -> str:
    """Return what tells the shots that show a cell from others, "" where the production has none at all."""
    mine = [s["camera"] for s in kept if s["wearer_id"] in (None, wearer) and s["pose"] in (None, column)]
    return f"|{orjson.dumps(mine).decode()}" if kept else ""


def keep_shots(connection: Connection, production: int, shots: Sequence[Shot], wearer: int | None, pose: str | None, author: str) -> None:
    """Keep shots, all for the same cells; one whose name is taken gains a number, since figures tell shots by their names."""
    taken = {s["camera"]["name"] for s in shots_of(connection, production)}
    for shot in shots:
        name, n = shot.name, 2
        while name in taken:
            name, n = f"{shot.name[:56]} {n}", n + 1
        taken.add(name)
        camera = shot.model_copy(update={"name": name}).model_dump(mode="json")
        run(connection, "add_shot", production=production, camera=Jsonb(camera), wearer=wearer, pose=pose, author=author)
    notify(connection, "shots")


def change_shot(connection: Connection, production: int, shot: int, to: Shot, wearer: int | None, pose: str | None) -> None:
    """Change a shot; raises `InputError` if there is none, or if its name is another's."""
    if any(s["camera"]["name"] == to.name and s["id"] != shot for s in shots_of(connection, production)):
        raise InputError(what=f"there is already a shot called {to.name}", where="the shots", todo="Give it another name.")
    if not run(connection, "change_shot", production=production, shot=shot, camera=Jsonb(to.model_dump(mode="json")), wearer=wearer,
               pose=pose):
        raise _gone(shot)
    notify(connection, "shots")


def drop_shot(connection: Connection, production: int, shot: int, dropped: bool = True) -> None:
    """Drop a shot, or take it back; raises `InputError` if there is none."""
    if not run(connection, "drop_shot", production=production, shot=shot, dropped=dropped):
        raise _gone(shot)
    notify(connection, "shots")


def _gone(shot: int) -> InputError:
    return NotFound(what=f"there is no shot {shot}", where="the shots", todo="Reload the room.")
