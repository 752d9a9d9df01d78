"""All productions of the studio: listed, begun, named, put into the bin and taken out."""

from datetime import datetime

from ...core.errors import NotFound
from ..db import Connection, Row, changed, check_later, number, numbers, one, rows, run
from ..events import notify


class FaceRow(Row):
    """A wearer on a production's card."""

    wearer: int
    name: str


class BriefRow(Row):
    """A production as its card shows it; `bytes` are those of its pieces, `artists` those who worked there last."""

    id: int
    name: str
    made_at: datetime
    opened_at: datetime
    binned_at: datetime | None
    wearers: int
    pieces: int
    poses: int
    bytes: int
    artists: list[str]
    faces: list[FaceRow]


def productions(connection: Connection) -> list[BriefRow]:
    """Return every production, the one opened last first; those in the bin too."""
    return rows(connection, BriefRow, "productions")


def has_productions(connection: Connection) -> bool:
    """Return whether there is a production, be it in the bin."""
    return one(connection, "any_production") is not None


def hold_demo(connection: Connection) -> None:
    """Let nobody else load the demo production until this transaction ends."""
    run(connection, "hold_demo")


def add_production(connection: Connection, name: str) -> int:
    """Begin a production without cast, poses or pieces; return it."""
    made = number(connection, "add_production", name=name)
    notify(connection, "productions")
    return made


def begin_anew(connection: Connection, name: str) -> int:
    """Begin a production in the place of those of the same name; return it."""
    check_later(connection)
    run(connection, "drop_productions_named", name=name)
    return add_production(connection, name)


def rename(connection: Connection, production: int, name: str) -> None:
    """Give a production another name. Raises `NotFound` if there is none."""
    _must(changed(connection, "rename_production", production=production, name=name), production)
    notify(connection, "productions")


def opened(connection: Connection, production: int) -> None:
    """Note that somebody opens a production. Raises `NotFound` if there is none, or it lies in the bin."""
    _must(changed(connection, "open_production", production=production), production)


def put_in_bin(connection: Connection, production: int, there: bool) -> None:
    """Put a production into the bin, or take it out. Raises `NotFound` where there is nothing to do that with."""
    _must(changed(connection, "bin_production" if there else "restore_production", production=production), production)
    notify(connection, "productions")


def empty_bin(connection: Connection) -> list[int]:
    """Delete what lies in the bin, for good; return it."""
    check_later(connection)
    gone = numbers(connection, "empty_bin")
    notify(connection, "productions")
    return gone


def _must(done: bool, production: int) -> None:
    if not done:
        raise NotFound(what=f"there is no production {production} to do that with", where="the productions", todo="Reload the page.")
