"""Wearers and the history of their shapes: every change is kept, undo and redo move along them."""

from typing import Literal

from psycopg.types.json import Jsonb

from ...core.errors import InputError, NotFound
from ...core.model.free_name import free_name as free
from ..db import Connection, Row, changed, number, one, row, rows, run
from ..events import notify


class CastRow(Row):
    """A wearer: shape settings by name, the address of a body of one's own (None: the house's figure), the outfit that is on."""

    id: int
    name: str
    shape: dict[str, float]
    body: str | None
    outfit: int
    can_undo: bool = False
    can_redo: bool = False


class WearerRow(CastRow):
    """A wearer with the production it belongs to."""

    production: int


class _Locked(Row):
    id: int
    name: str
    shape: dict[str, float]
    edit_id: int | None


def cast_of(connection: Connection, production: int) -> list[CastRow]:
    """Return the cast in its order."""
    return rows(connection, CastRow, "cast_of", production=production)


def get_wearer(connection: Connection, wearer: int) -> WearerRow:
    """Return a wearer. Raises `NotFound` if there is none."""
    found = row(connection, WearerRow, "wearer", wearer=wearer)
    if found is None:
        raise _none(wearer)
    return found


def add_wearer(connection: Connection, production: int, name: str, shape: dict[str, float], author: str, body: str | None = None,
               outfit: int | None = None) -> int:
    """Add a wearer whose history begins with `shape`, on a body of one's own or the house's figure, in an outfit or the production's first;
    return it."""
    wearer = number(connection, "add_wearer", production=production, name=name, shape=Jsonb(shape), body=body, outfit=outfit)
    _edit(connection, wearer, None, shape, author)
    return wearer


def set_shape(connection: Connection, wearer: int, shape: dict[str, float], author: str) -> None:
    """Give a wearer a new shape as the next edit. The shape it has already makes no edit."""
    standing = _lock(connection, wearer)
    if standing.shape != shape:
        _edit(connection, wearer, standing.edit_id, shape, author)


def step(connection: Connection, wearer: int, way: Literal["undo", "redo"]) -> None:
    """Stand the wearer on the shape before or after. Raises `InputError` at either end."""
    standing = _lock(connection, wearer)
    to = one(connection, "wearer_parent" if way == "undo" else "wearer_child", edit=standing.edit_id)
    if to is None:
        raise InputError(what=f"there is nothing to {way}", where=f"the shape of {standing.name}", todo="Nothing was changed.")
    run(connection, "stand_wearer", wearer=wearer, edit=to["id"])
    notify(connection, "cast")


def drop_wearer(connection: Connection, wearer: int) -> None:
    """Take a wearer out of the cast with what was measured on it; raises `InputError` for the last one."""
    standing = _lock(connection, wearer)
    if not changed(connection, "drop_wearer", wearer=wearer):
        raise InputError(what=f"{standing.name} is the last of the cast", where="the cast", todo="Add another wearer first.")
    notify(connection, "cast")


def free_name(connection: Connection, production: int, name: str) -> str:
    """Return `name`, or it with the first number that no wearer of the cast has."""
    return free((w.name for w in cast_of(connection, production)), name)


def _edit(connection: Connection, wearer: int, parent: int | None, shape: dict[str, float], author: str) -> None:
    edit = number(connection, "add_wearer_edit", wearer=wearer, parent=parent, shape=Jsonb(shape), author=author)
    run(connection, "stand_wearer", wearer=wearer, edit=edit)
    notify(connection, "cast")


def _lock(connection: Connection, wearer: int) -> _Locked:
    found = row(connection, _Locked, "lock_wearer", wearer=wearer)
    if found is None:
        raise _none(wearer)
    return found


def _none(wearer: int) -> NotFound:
    return NotFound(what=f"there is no wearer {wearer}", where="the cast", todo="Reload the room.")
