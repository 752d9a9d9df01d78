"""Runs of wearing the outfit on other wearers: a row for each piece on each of them."""

from collections.abc import Sequence
from typing import Literal

from ..db import Connection, Row, existing, number, row, rows, run
from ..events import notify


class RunRow(Row):
    """A run of wearing on."""

    id: int
    production: int
    state: Literal["running", "done", "cancelled"]


class WornRow(Row):
    """One piece on one wearer: done, mended, or needs the artist; the share of it under the skin before and after."""

    piece: int
    piece_name: str
    wearer: int
    wearer_name: str
    state: Literal["waiting", "done", "mended", "needs"]
    under_before: float | None
    under_after: float | None
    why: str


class WaitingRow(Row):
    """One piece that waits to be looked at on one wearer."""

    run: int
    piece: int
    wearer: int


def begin_run(connection: Connection, production: int, pairs: Sequence[tuple[int, int]]) -> int:
    """Begin a run with a row for each piece and wearer, in the place of the one before; return it."""
    before = latest_run(connection, production)
    if before:
        run(connection, "cancel_wear_run", run=before.id)
    made = number(connection, "add_wear_run", production=production)
    for piece, wearer in pairs:
        run(connection, "add_wear_row", run=made, piece=piece, wearer=wearer)
    notify(connection, "wear", run=made)
    return made


def find_run(connection: Connection, run_id: int) -> RunRow | None:
    """Return a run, None if there is none."""
    return row(connection, RunRow, "wear_run", run=run_id)


def get_run(connection: Connection, run_id: int) -> RunRow:
    """Return a run. Raises `NotFound` if there is none."""
    return existing(find_run(connection, run_id), what=f"there is no run {run_id}", where="wearing on", todo="Start a new one.")


def latest_run(connection: Connection, production: int) -> RunRow | None:
    """Return the newest run of a production."""
    return row(connection, RunRow, "latest_wear_run", production=production)


def rows_of(connection: Connection, run_id: int) -> list[WornRow]:
    """Return a run's rows, wearer by wearer."""
    return rows(connection, WornRow, "wear_rows", run=run_id)


def waiting_rows(connection: Connection) -> list[WaitingRow]:
    """Return the rows that wait in runs under way."""
    return rows(connection, WaitingRow, "waiting_wear_rows")


def end_row(connection: Connection, of: WaitingRow, state: str, before: float | None, after: float | None, why: str) -> None:
    """Note what one piece came to on one wearer; the last row closes the run."""
    run(connection, "lock_wear_run", run=of.run)
    run(connection, "finish_wear_row", run=of.run, piece=of.piece, wearer=of.wearer, state=state, before=before, after=after, why=why)
    run(connection, "close_wear_run", run=of.run)
    notify(connection, "wear", run=of.run)


def cancel_run(connection: Connection, run_id: int) -> None:
    """Stop a run; what is done stays. Raises `NotFound` if there is none."""
    get_run(connection, run_id)
    run(connection, "cancel_wear_run", run=run_id)
    notify(connection, "wear", run=run_id)


def reopen_row(connection: Connection, run_id: int, piece: int, wearer: int) -> None:
    """Let a piece that needs the artist on a wearer wait to be looked at once more."""
    run(connection, "reopen_wear_row", run=run_id, piece=piece, wearer=wearer)
    notify(connection, "wear", run=run_id)
