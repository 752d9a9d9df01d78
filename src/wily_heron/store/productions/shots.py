"""The production's shots: kept, and chosen for a cell."""

from collections.abc import Sequence

import orjson
from psycopg.types.json import Jsonb

from ...core.clearance.find.shots import Shot
from ...core.errors import InputError, NotFound
from ..db import Connection, Row, changed, rows, run
from ..events import notify


class ShotRow(Row):
    """A shot, and the wearer and the column of the sheet it shows alone; None: it shows all of them."""

    id: int
    shot: Shot
    wearer: int | None = None
    pose: str | None = None

    def shows(self, wearer: int | None, column: str) -> bool:
        """Return whether it shows a cell of the sheet."""
        return self.wearer in (None, wearer) and self.pose in (None, column)


def shots_of(connection: Connection, production: int) -> list[ShotRow]:
    """Return the production's shots, oldest first."""
    return rows(connection, ShotRow, "shots_of", production=production)


def shots_in(kept: Sequence[ShotRow], wearer: int | None, column: str) -> list[Shot] | None:
    """Return the shots that show a cell of the sheet, None where the production has none at all."""
    return [s.shot for s in kept if s.shows(wearer, column)] if kept else None


def shots_key(kept: Sequence[ShotRow], wearer: int, column: str) -> str:
    """Return what tells the shots that show a cell from others, "" where the production has none at all."""
    mine = [s.shot.model_dump(mode="json") for s in kept if s.shows(wearer, column)]
    return f"|{orjson.dumps(mine).decode()}" if kept else ""


def keep_shots(connection: Connection, production: int, shots: Sequence[Shot], wearer: int | None, pose: str | None, author: str) -> None:
    """Keep shots, all for the same cells; one whose name is taken gains a number, since figures tell shots by their names."""
    taken = {s.shot.name for s in shots_of(connection, production)}
    for shot in shots:
        name, n = shot.name, 2
        while name in taken:
            name, n = f"{shot.name[:56]} {n}", n + 1
        taken.add(name)
        camera = shot.model_copy(update={"name": name}).model_dump(mode="json")
        run(connection, "add_shot", production=production, camera=Jsonb(camera), wearer=wearer, pose=pose, author=author)
    notify(connection, "shots")


def change_shot(connection: Connection, production: int, shot: int, to: Shot, wearer: int | None, pose: str | None) -> None:
    """Change a shot; raises `NotFound` if there is none, `InputError` if its name is another's."""
    if any(s.shot.name == to.name and s.id != shot for s in shots_of(connection, production)):
        raise InputError(what=f"there is already a shot called {to.name}", where="the shots", todo="Give it another name.")
    camera = Jsonb(to.model_dump(mode="json"))
    if not changed(connection, "change_shot", production=production, shot=shot, camera=camera, wearer=wearer, pose=pose):
        raise _gone(shot)
    notify(connection, "shots")


def drop_shot(connection: Connection, production: int, shot: int, dropped: bool = True) -> None:
    """Drop a shot, or take it back; raises `NotFound` if there is none."""
    if not changed(connection, "drop_shot", production=production, shot=shot, dropped=dropped):
        raise _gone(shot)
    notify(connection, "shots")


def _gone(shot: int) -> NotFound:
    return NotFound(what=f"there is no shot {shot}", where="the shots", todo="Reload the room.")
