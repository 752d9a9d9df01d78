"""Wearers and the history of their shapes: every change is kept, undo and redo move along them."""

from typing import Any, Literal

from psycopg.types.json import Jsonb

from ..core.errors import InputError, NotFound
from .db import Connection, one, run
from .events import notify


def add_wearer(connection: Connection, production: int, name: str, shape: dict[str, float], author: str, body: str | None = None) -> int:
    """Add a wearer whose history begins with `shape`, on a body of one's own or the house's figure; return it."""
    wearer = run(connection, "add_wearer", production=production, name=name, shape=Jsonb(shape), body=body)[0]["id"]
    edit = run(connection, "add_wearer_edit", wearer=wearer, parent=None, shape=Jsonb(shape), author=author)[0]["id"]
    run(connection, "stand_wearer", wearer=wearer, edit=edit)
    notify(connection, "cast")
    return wearer


def set_shape(connection: Connection, wearer: int, shape: dict[str, float], author: str) -> str:
    """Give a wearer a new shape as the next edit; return the wearer's name. The shape it has already makes no edit."""
    row = _lock(connection, wearer)
    if row["shape"] != shape:
        edit = run(connection, "add_wearer_edit", wearer=wearer, parent=row["edit_id"], shape=Jsonb(shape), author=author)[0]["id"]
        run(connection, "stand_wearer", wearer=wearer, edit=edit)
        notify(connection, "cast")
    return row["name"]


def step(connection: Connection, wearer: int, way: Literal["undo", "redo"]) -> tuple[str, dict[str, float]]:
    """Stand the wearer on the shape before or after; return name and shape. Raises `InputError` at either end."""
    row = _lock(connection, wearer)
    to = one(connection, "wearer_parent" if way == "undo" else "wearer_child", edit=row["edit_id"])
    if to is None:
        raise InputError(what=f"there is nothing to {way}", where=f"the shape of {row['name']}", todo="Nothing was changed.")
    shape = run(connection, "stand_wearer", wearer=wearer, edit=to["id"])[0]["shape"]
    notify(connection, "cast")
    return row["name"], shape


def drop_wearer(connection: Connection, wearer: int) -> None:
    """Take a wearer out of the cast with what was measured on it; raises `InputError` for the last one."""
    row = _lock(connection, wearer)
    if not run(connection, "drop_wearer", wearer=wearer):
        raise InputError(what=f"{row['name']} is the last of the cast", where="the cast", todo="Add another wearer first.")
    notify(connection, "cast")


def _lock(connection: Connection, wearer: int) -> dict[str, Any]:
    row = one(connection, "lock_wearer", wearer=wearer)
    if row is None:
        raise NotFound(what=f"there is no wearer {wearer}", where="the cast", todo="Reload the room.")
    return row
