"""Pieces that somebody waits for to be put on."""

from collections.abc import Sequence

from ..db import Connection, Row, rows, run
from ..events import notify


class DressingRow(Row):
    """Pieces that an artist waits for to be put on, from the skin outwards."""

    production: int
    artist: str
    pieces: list[int]


def begin_dressing(connection: Connection, pieces: Sequence[int], artist: str) -> None:
    """Note that an artist waits for pieces to be put on."""
    run(connection, "to_dress", pieces=list(pieces), artist=artist)
    for piece in pieces:
        notify(connection, "piece", piece=piece)


def end_dressing(connection: Connection, piece: int) -> None:
    """Note that a piece is put on, or cannot be."""
    run(connection, "dressing_over", piece=piece)
    notify(connection, "piece", piece=piece)


def being_dressed(connection: Connection) -> list[DressingRow]:
    """Return what is to be put on in every production."""
    return rows(connection, DressingRow, "being_dressed")
