"""Dressed bodies being taken apart, and the history of their division."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Literal

import numpy as np
from psycopg.types.json import Jsonb

from ..core.errors import InputError
from ..formats.array_frame import pack, unpack
from .db import Connection, Row, changed, existing, get_blob, number, numbers, one, put_blob, row, rows, run
from .events import notify

State = Literal["open", "taking", "taken", "failed"]
Places = dict[str, tuple[float, float, float]]


class Part(Row):
    """A part of a dressed body: the body, or a piece with its category; how sure the proposal was (0 to 1), and why."""

    name: str
    is_body: bool
    category: str
    colour: int
    sure: float
    why: str


class ApartLine(Row):
    """A dressed body in the list."""

    id: int
    file_name: str
    made_at: datetime
    state: State
    outcome: str | None


class ApartRow(ApartLine):
    """A dressed body as it is divided now: addresses of its model and of the part of each triangle, what the artist said of its joints,
    and the divisions that undo and redo go to."""

    production: int
    model: str
    roles: dict[str, str] | None
    places: Places | None
    author: str
    labels: str
    parts: list[Part]
    label: str
    parent: int | None
    child: int | None


def add_apart(connection: Connection, production: int, file_name: str, model: str, label: np.ndarray, parts: Sequence[Part],
              author: str) -> int:
    """Add a dressed body with its proposed division; return it."""
    apart = number(connection, "add_apart", production=production, file_name=file_name, model=model, author=author)
    _stand(connection, apart, None, label, parts, "Proposed")
    return apart


def aparts_of(connection: Connection, production: int) -> list[ApartLine]:
    """Return the dressed bodies of a production, the newest first."""
    return rows(connection, ApartLine, "aparts_of", production=production)


def get_apart(connection: Connection, apart: int) -> ApartRow:
    """Return a dressed body with its standing division. Raises `NotFound` if there is none."""
    found = row(connection, ApartRow, "apart", apart=apart)
    return existing(found, what=f"there is no dressed body {apart}", where="taking apart", todo="Bring it in again.")


def labels(connection: Connection, of: ApartRow) -> np.ndarray:
    """Return the part of each triangle `(m,) int32` as it stands."""
    return unpack(get_blob(connection, of.labels))[0]["label"]


def divide(connection: Connection, apart: int, label: np.ndarray, parts: Sequence[Part], what: str) -> None:
    """Record another division as the next edit."""
    standing = one(connection, "lock_apart", apart=apart)
    _stand(connection, apart, standing["edit_id"] if standing else None, label, parts, what)


def step(connection: Connection, apart: int, forward: bool) -> None:
    """Stand on the division before, or after; raises `InputError` at either end."""
    run(connection, "lock_apart", apart=apart)
    now = get_apart(connection, apart)
    to = now.child if forward else now.parent
    if to is None:
        raise InputError(what=f"there is nothing to {'redo' if forward else 'undo'}", where="taking apart", todo="Its history ends here.")
    run(connection, "stand_apart", apart=apart, edit=to)
    notify(connection, "apart", apart=apart)


def set_roles(connection: Connection, apart: int, roles: Mapping[str, str] | None, places: Mapping[str, Sequence[float]] | None) -> None:
    """Keep which joint does which work, or where our joints stand; none of either: as found."""
    run(connection, "apart_roles", apart=apart, roles=Jsonb(dict(roles)) if roles else None, places=Jsonb(dict(places)) if places else None)
    notify(connection, "apart", apart=apart)


def begin_taking(connection: Connection, apart: int) -> None:
    """Note that it is being taken apart; raises `InputError` where it is already."""
    if not changed(connection, "apart_taking", apart=apart):
        raise InputError(what="it is being taken apart already", where="taking apart", todo="Wait until it is done.")
    notify(connection, "apart", apart=apart)


def end_taking(connection: Connection, apart: int, state: Literal["taken", "failed"], outcome: str) -> None:
    """Note what came of taking it apart."""
    run(connection, "apart_ended", apart=apart, state=state, outcome=outcome)
    notify(connection, "apart", apart=apart)


def being_taken(connection: Connection) -> list[int]:
    """Return those that are being taken apart."""
    return numbers(connection, "aparts_taking")


def drop_apart(connection: Connection, apart: int) -> None:
    """Forget a dressed body; what was taken from it stays. Raises `NotFound` if there is none."""
    get_apart(connection, apart)
    run(connection, "drop_apart", apart=apart)
    notify(connection, "apart")


def _stand(connection: Connection, apart: int, parent: int | None, label: np.ndarray, parts: Sequence[Part], what: str) -> None:
    sha = put_blob(connection, pack({"label": label.astype(np.int32)}, {}), "labels")
    kept = Jsonb([part.model_dump() for part in parts])
    edit = number(connection, "add_apart_edit", apart=apart, parent=parent, labels=sha, parts=kept, label=what)
    run(connection, "stand_apart", apart=apart, edit=edit)
    notify(connection, "apart", apart=apart)
