"""Pieces that wait to be put on: asked for as one job, and asked for again where that is lost."""

from collections.abc import Sequence

from ..store.db import transaction
from ..store.rail import dressing as store
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


def set_aside(pieces: list[int], production: int, author: str, order: Order = "given") -> None:
    """Let pieces wait no more: the process that put them on ended each time. Their edits, run by themselves, tell what is wrong."""
    for piece in pieces:
        ended(piece)
