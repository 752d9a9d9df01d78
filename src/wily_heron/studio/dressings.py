"""Pieces that wait to be put on: asked for as one job, and asked for again where that is lost."""

from collections.abc import Callable, Sequence

from ..store.db import Connection, transaction
from ..store.rail import dressing as store
from ..store.rail.pieces import find_piece
from . import work
from .desk import Desk
from .work import Order, Work


def ask_for(desk: Desk, pieces: Sequence[int], order: Order = "given") -> None:
    """Ask for one job that puts pieces on, each over those before it."""
    with transaction() as connection:
        store.begin_dressing(connection, pieces, desk.artist)
    desk.ask(work.dress(pieces, desk.production, desk.artist, order))


def waiting_work() -> list[Work]:
    """Return what a crash left of putting pieces on."""
    with transaction() as connection:
        return [work.dress(row.pieces, row.production, row.artist) for row in store.being_dressed(connection)]


def ended(piece: int) -> None:
    """Note that a piece is put on, or cannot be."""
    with transaction() as connection:
        store.end_dressing(connection, piece)


def end_on(connection: Connection, piece: int, fail: Callable[[int], None]) -> None:
    """Let a piece wait no more; its step that is being run is handed to `fail`. One that has been taken off is passed over."""
    row = find_piece(connection, piece)
    if row is not None:
        fail(row.edit)
        store.end_dressing(connection, piece)


def begin_on(connection: Connection, pieces: Sequence[int], artist: str, reopen: Callable[[int], None]) -> None:
    """Let pieces wait to be put on again; the step of each that failed is handed to `reopen`."""
    there = [row for row in (find_piece(connection, piece) for piece in pieces) if row is not None]
    for row in there:
        reopen(row.edit)
    store.begin_dressing(connection, [row.id for row in there], artist)
