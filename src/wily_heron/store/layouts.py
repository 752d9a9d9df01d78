"""Layouts of the cutting table and their history."""

from collections.abc import Mapping

from psycopg.types.json import Jsonb

from ..core.errors import Conflict, InputError, NotFound
from ..core.table.layout import Layout
from .db import Connection, Row, changed, number, one, row, rows, run
from .events import notify


class LayoutLine(Row):
    """A layout on the shelf of the table."""

    id: int
    name: str
    wearer: int | None


class LayoutRow(LayoutLine):
    """A layout as it stands, made for a wearer in a shape, with what undo and redo would do."""

    edit: int
    shape: dict[str, float]
    layout: Layout
    label: str
    author: str
    can_undo: bool
    redo_label: str | None


def layouts_of(connection: Connection, production: int) -> list[LayoutLine]:
    """Return the layouts of a production, oldest first."""
    return rows(connection, LayoutLine, "layouts_of", production=production)


def add_layout(connection: Connection, production: int, name: str, layout: Layout, wearer: int | None, shape: Mapping[str, float],
               author: str) -> int:
    """Add a layout that was made for a wearer in a shape; return its number."""
    made = number(connection, "add_layout", production=production, name=name)
    _edit(connection, made, None, layout, wearer, shape, f"Begin {name}", author)
    return made


def get_layout(connection: Connection, number: int) -> LayoutRow:
    """Return a layout. Raises `NotFound` if there is none."""
    found = row(connection, LayoutRow, "layout", layout=number)
    if found is None:
        raise _none(number)
    return found


def change_layout(connection: Connection, number: int, layout: Layout, label: str, author: str, based_on: int | None = None,
                  made_for: tuple[int, Mapping[str, float]] | None = None) -> None:
    """Record a change, made for another wearer in a shape if that is given.

    Raises `Conflict` when `based_on` is given and someone else has changed it since.
    """
    standing = _lock(connection, number)
    if based_on is not None and based_on != standing:
        raise Conflict(what="the panels have been changed in another window since you opened them", where="the cutting table",
                       todo="Your view is brought up to date; make the change again on what stands now.")
    now = get_layout(connection, number)
    wearer, shape = made_for or (now.wearer, now.shape)
    _edit(connection, number, standing, layout, wearer, shape, label, author)


def step_layout(connection: Connection, number: int, back: bool) -> None:
    """Undo or redo a change; raises `InputError` at the end of the history."""
    to = one(connection, "layout_parent" if back else "layout_child", edit=_lock(connection, number))
    if to is None:
        raise InputError(what=f"there is nothing to {'undo' if back else 'redo'}", where="these panels", todo="Their history ends here.")
    run(connection, "stand_layout_on", layout=number, edit=to["id"])
    notify(connection, "layout", layout=number)


def drop_layout(connection: Connection, number: int) -> None:
    """Forget a layout with its history; pieces that were sewn from it stay. Raises `NotFound` if there is none."""
    if not changed(connection, "drop_layout", layout=number):
        raise _none(number)
    notify(connection, "layout", layout=number)


def _edit(connection: Connection, layout: int, parent: int | None, to: Layout, wearer: int | None, shape: Mapping[str, float],
          label: str, author: str) -> None:
    edit = number(connection, "add_layout_edit", layout=layout, parent=parent, wearer=wearer, shape=Jsonb(dict(shape)),
                  body=Jsonb(to.model_dump(mode="json")), label=label, author=author)
    run(connection, "stand_layout_on", layout=layout, edit=edit)
    notify(connection, "layout", layout=layout)


def _lock(connection: Connection, number: int) -> int:
    found = one(connection, "lock_layout", layout=number)
    if found is None:
        raise _none(number)
    return found["edit_id"]


def _none(number: int) -> NotFound:
    return NotFound(what=f"there is no layout {number}", where="the cutting table", todo="It may have been taken away in another window.")
