"""Dressed bodies being taken apart, and the history of their division."""

from typing import Any

import numpy as np
from psycopg.types.json import Jsonb

from ..core.errors import InputError, NotFound
from .arrays import pack, unpack
from .db import Connection, get_blob, one, put_blob, run
from .events import notify


def add_apart(connection: Connection, production: int, file_name: str, model_sha: str, label: np.ndarray, parts: list[dict],
              author: str) -> int:
    """Add a dressed body with its proposed division; return it."""
    number = run(connection, "add_apart", production=production, file_name=file_name, model=model_sha, author=author)[0]["id"]
    _stand(connection, number, None, label, parts, "Proposed")
    return number


def get_apart(connection: Connection, number: int) -> dict[str, Any]:
    """Return the row of a dressed body with its standing division; raises `InputError` if there is none."""
    row = one(connection, "apart", apart=number)
    if row is None:
        raise NotFound(what=f"there is no dressed body {number}", where="taking apart", todo="Bring it in again.")
    return row


def labels(connection: Connection, row: dict[str, Any]) -> np.ndarray:
    """Return the part of each triangle `(m,) int32` as it stands."""
    return unpack(get_blob(connection, row["labels_sha"]))[0]["label"]


def divide(connection: Connection, number: int, label: np.ndarray, parts: list[dict], what: str) -> None:
    """Record another division as the next edit."""
    standing = one(connection, "lock_apart", apart=number)
    _stand(connection, number, standing["edit_id"] if standing else None, label, parts, what)


def step(connection: Connection, number: int, forward: bool) -> None:
    """Stand on the division before, or after; raises `InputError` at either end."""
    run(connection, "lock_apart", apart=number)
    row = get_apart(connection, number)
    to = row["child_id"] if forward else row["parent_id"]
    if to is None:
        raise InputError(what=f"there is nothing to {'redo' if forward else 'undo'}", where="taking apart", todo="Its history ends here.")
    run(connection, "stand_apart", apart=number, edit=to)
    notify(connection, "apart", apart=number)


def _stand(connection: Connection, number: int, parent: int | None, label: np.ndarray, parts: list[dict], what: str) -> None:
    sha = put_blob(connection, pack({"label": label.astype(np.int32)}, {}), "labels")
    edit = run(connection, "add_apart_edit", apart=number, parent=parent, labels=sha, parts=Jsonb(parts), label=what)[0]["id"]
    run(connection, "stand_apart", apart=number, edit=edit)
    notify(connection, "apart", apart=number)
