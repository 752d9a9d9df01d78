"""Copies of pieces and what they were copied from."""

from ..db import Connection, one, run


def origin_of(connection: Connection, piece: int) -> tuple[int, int] | None:
    """Return the origin of a copy and the edit that it stands on, None if the piece is no copy or its origin is gone."""
    found = one(connection, "origin_of", piece=piece)
    return (found["id"], found["edit"]) if found else None


def stand_for_origin(connection: Connection, piece: int, edit: int) -> None:
    """Note the edit of its origin that a copy stands for."""
    run(connection, "stands_for_origin", piece=piece, edit=edit)
