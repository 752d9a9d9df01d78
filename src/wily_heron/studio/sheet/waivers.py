"""What is left as it is on the sheet, and the cells that matter."""

from ...store.db import transaction
from ...store.sheet import waivers as store
from ...store.sheet.waivers import PinRow, WaiverRow
from ..desk import Desk


def waivers(production: int) -> list[WaiverRow]:
    """Return what is left as it is, with the reasons."""
    with transaction() as connection:
        return store.waivers_of(connection, production)


def waive(desk: Desk, cell: PinRow, over: str, reason: str, by_shots: bool) -> list[WaiverRow]:
    """Leave what shows through a piece in a cell as it is; return all that is left so."""
    with transaction() as connection:
        store.waive(connection, desk.production, cell, over, reason, by_shots, desk.artist)
        return store.waivers_of(connection, desk.production)


def unwaive(production: int, waiver: int) -> list[WaiverRow]:
    """Count it again; return what is still left as it is."""
    with transaction() as connection:
        store.unwaive(connection, production, waiver)
        return store.waivers_of(connection, production)


def pins(production: int) -> list[PinRow]:
    """Return the cells that matter."""
    with transaction() as connection:
        return store.pins_of(connection, production)


def pin(production: int, cell: PinRow, pinned: bool) -> list[PinRow]:
    """Pin a cell, or take its pin out; return all that are pinned."""
    with transaction() as connection:
        store.pin(connection, production, cell, pinned)
        return store.pins_of(connection, production)
