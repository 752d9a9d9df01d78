"""Batches: files taken in together, a row for each."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Literal

from psycopg.types.json import Jsonb

from ..db import Connection, Row, existing, number, numbers, one, put_blob, row, rows, run
from ..events import notify

State = Literal["waiting", "done", "mended", "needs you", "refused", "cancelled"]


class BatchRow(Row):
    """Files taken in together."""

    id: int
    cancelled: bool
    made_at: datetime


class FileRow(Row):
    """What became of one file, and the item it became."""

    id: int
    file_name: str
    state: State
    why: str
    item_id: int | None


class WaitingFile(Row):
    """One file to be taken in: the address of its bytes, and the addresses of those `beside` it by plain name."""

    id: int
    file_name: str
    upload: str
    state: State
    shelf: int | None
    beside: dict[str, str]
    author: str
    cancelled: bool


def add_batch(connection: Connection, files: Sequence[tuple[str, bytes]], beside: Mapping[str, bytes], shelf: int | None,
              author: str) -> tuple[int, list[int]]:
    """Keep files to be taken in, and those that belong to them; return the batch and its rows."""
    kept = {name: put_blob(connection, data, "upload") for name, data in beside.items()}
    batch = number(connection, "add_batch", shelf=shelf, beside=Jsonb(kept), author=author)
    made = [number(connection, "add_batch_row", batch=batch, file_name=name, upload=put_blob(connection, data, "upload"))
            for name, data in files]
    notify(connection, "stock")
    return batch, made


def get_batch(connection: Connection, batch: int) -> tuple[BatchRow, list[FileRow]]:
    """Return a batch and its rows. Raises `NotFound` if there is none."""
    found = row(connection, BatchRow, "batch", batch=batch)
    found = existing(found, what=f"there is no batch {batch}", where="taking in", todo="Reload the room.")
    return found, rows(connection, FileRow, "batch_rows", batch=batch)


def latest_batch(connection: Connection) -> int | None:
    """Return the batch that came in last."""
    found = one(connection, "latest_batch")
    return found["id"] if found else None


def waiting_file(connection: Connection, row_id: int) -> WaitingFile | None:
    """Return a row that waits to be taken in, None if it waits no more."""
    found = row(connection, WaitingFile, "batch_row", row=row_id)
    return None if found is None or found.state != "waiting" or found.cancelled else found


def waiting_files(connection: Connection) -> list[int]:
    """Return the rows that wait to be taken in."""
    return numbers(connection, "waiting_batch_rows")


def end_file(connection: Connection, row_id: int, state: State, why: str, item: int | None) -> None:
    """Note what became of a file."""
    run(connection, "end_batch_row", row=row_id, state=state, why=why, item=item)
    notify(connection, "stock")


def reopen_file(connection: Connection, row: int) -> None:
    """Let a file that was refused, or let go, wait again."""
    run(connection, "reopen_batch_row", row=row)
    notify(connection, "stock")


def cancel_batch_of(connection: Connection, row: int) -> None:
    """Stop the batch that a file came in with."""
    for batch in numbers(connection, "batch_of_row", row=row):
        cancel_batch(connection, batch)


def cancel_batch(connection: Connection, batch: int) -> None:
    """Stop a batch: what is taken in stays, what waits is let go."""
    run(connection, "cancel_batch", batch=batch)
    notify(connection, "stock")
