"""What is left as it is on the sheet, and the cells that matter."""

from datetime import datetime

from ..db import Connection, Row, rows, run
from ..events import notify


class WaiverRow(Row):
    """What shows through a piece in a cell and is left as it is, why, and who said so; `by_shots` only as long as no shot sees it."""

    id: int
    wearer: int
    pose: str
    over: str
    reason: str
    by_shots: bool
    author: str
    made_at: datetime


class PinRow(Row):
    """A cell that matters."""

    wearer: int
    pose: str


def waivers_of(connection: Connection, production: int) -> list[WaiverRow]:
    """Return what is left as it is, oldest first."""
    return rows(connection, WaiverRow, "waivers_of", production=production)


def waive(connection: Connection, production: int, cell: PinRow, over: str, reason: str, by_shots: bool, author: str) -> None:
    """Leave what shows through a piece in a cell as it is."""
    run(connection, "waive", production=production, wearer=cell.wearer, pose=cell.pose, over=over, reason=reason, by_shots=by_shots,
        author=author)
    notify(connection, "trial", trial=0)


def unwaive(connection: Connection, production: int, waiver: int) -> None:
    """Count it again."""
    run(connection, "unwaive", waiver=waiver, production=production)
    notify(connection, "trial", trial=0)


def pins_of(connection: Connection, production: int) -> list[PinRow]:
    """Return the cells that matter."""
    return rows(connection, PinRow, "pins_of", production=production)


def pin(connection: Connection, production: int, cell: PinRow, pinned: bool) -> None:
    """Pin a cell, or take its pin out."""
    run(connection, "pin" if pinned else "unpin", production=production, wearer=cell.wearer, pose=cell.pose)
    notify(connection, "trial", trial=0)
