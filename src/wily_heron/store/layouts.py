"""Layouts of the cutting table and their history."""

from collections.abc import Mapping
from typing import Any

from psycopg.types.json import Jsonb

from ..core.errors import Conflict, InputError, NotFound
from ..core.table.layout import Layout
from .db import Connection, one, run
from .events import notify


def add_layout(connection: Connection, production: int, name: str, layout: Layout, wearer: int | None, shape: Mapping[str, float],
               author: str) -> int:
    """Add a layout that was made for a wearer in a shape; return its number."""
    number = run(connection, "add_layout", production=production, name=name)[0]["id"]
    _edit(connection, number, None, layout, wearer, shape, f"Begin {name}", author)
    return number


def get_layout(connection: Connection, number: int) -> dict[str, Any]:
    """Return the row of a layout with `body` as a `Layout`; raises `InputError` for an unknown one."""
    row = one(connection, "layout", layout=number)
    if row is None:
        raise _none(number)
    return {**row, "body": Layout.model_validate(row["body"])}


def change_layout(connection: Connection, number: int, layout: Layout, label: str, author: str, based_on: int | None = None,
                  wearer: int | None = None, shape: Mapping[str, float] | None = None) -> None:
    """Record a change; raises `InputError` when `based_on` is given and someone else has changed it since."""
    standing = _lock(connection, number)
    if based_on is not None and based_on != standing:
        raise Conflict(what="the panels have been changed in another window since you opened them", where="the cutting table",
                         todo="Your view is brought up to date; make the change again on what stands now.")
    now = get_layout(connection, number)
    _edit(connection, number, standing, layout, wearer or now["wearer_id"], now["shape"] if shape is None else shape, label, author)


def step_layout(connection: Connection, number: int, back: bool) -> None:
    """Undo or redo a change; raises `InputError` at the end of the history."""
    standing = _lock(connection, number)
    row = one(connection, "layout_parent" if back else "layout_child", edit=standing)
    edit = row and (row["parent_id"] if back else row["id"])
    if not edit:
        raise InputError(what=f"there is nothing to {'undo' if back else 'redo'}", where="these panels", todo="Their history ends here.")
    run(connection, "stand_layout_on", layout=number, edit=edit)
    notify(connection, "layout", layout=number)


def rename_layout(connection: Connection, number: int, name: str) -> None:
    """Give a layout another name."""
    if not run(connection, "rename_layout", layout=number, name=name):
        raise _none(number)
    notify(connection, "layout", layout=number)


def drop_layout(connection: Connection, number: int) -> None:
    """Forget a layout with its history; pieces that were sewn from it stay."""
    if not run(connection, "drop_layout", layout=number):
        raise _none(number)
    notify(connection, "layout", layout=number)


def _edit(connection: Connection, number: int, parent: int | None, layout: Layout, wearer: int | None, shape: Mapping[str, float],
          label: str, author: str) -> None:
    edit = run(connection, "add_layout_edit", layout=number, parent=parent, wearer=wearer, shape=Jsonb(dict(shape)),
               body=Jsonb(layout.model_dump(mode="json")), label=label, author=author)[0]["id"]
    run(connection, "stand_layout_on", layout=number, edit=edit)
    notify(connection, "layout", layout=number)


def _lock(connection: Connection, number: int) -> int:
    row = one(connection, "lock_layout", layout=number)
    if row is None:
        raise _none(number)
    return row["edit_id"]


def _none(number: int) -> InputError:
    return NotFound(what=f"there is no layout {number}", where="the cutting table", todo="It may have been taken away in another window.")
