"""Runs of the trial sheet and their cells."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Literal, NamedTuple

import orjson
from psycopg.types.json import Jsonb
from pydantic import field_validator

from ...core.clearance.figures import Figures
from ..db import Connection, Row, existing, number, put_blob, row, rows, run
from ..events import notify

State = Literal["running", "done", "cancelled"]
Worn = list[tuple[str, str]]
"""What is worn: name and geometry from the skin outwards."""


class Cause(Row):
    """What a failing cell comes from: the piece it shows through, the layer that shows, the kind of cause, and it in words."""

    over: str
    under: str | None = None
    kind: str
    words: str


class TrialRow(Row):
    """A run of the sheet: what is worn in it by each body ("" for the house's figure), and how long it has taken (seconds).

    It began by itself after a change, or not; it holds the whole sheet, or what was chosen of it; it is of one outfit on everybody, or of
    what each has on.
    """

    id: int
    production: int
    outfit: dict[str, Worn]
    total: int
    done: int
    state: State
    automatic: bool
    whole: bool
    of_outfit: int | None
    started_at: datetime
    seconds: float

    @field_validator("outfit", mode="before")
    @classmethod
    def _read(cls, kept: object) -> object:
        return orjson.loads(kept) if isinstance(kept, str) else kept


class CellRow(Row):
    """One cell of a run; `figures` is None until it is measured, `key` tells what they were measured of."""

    wearer: int
    pose: str
    key: str
    figures: Figures | None
    error: str | None
    picture: str | None
    causes: list[Cause] | None


class BriefRow(Row):
    """A run of the sheet in one line, to compare with."""

    id: int
    state: State
    total: int
    holding: int
    started_at: datetime


class _Taken(Row):
    wearer: int
    pose: str
    known: bool


class NewCell(NamedTuple):
    """A cell of a run that begins; one that is not wanted is in it only if it is known."""

    wearer: int
    column: str
    key: str
    wanted: bool = True


def add_trial(connection: Connection, production: int, outfit: Mapping[str, Worn], cells: Sequence[NewCell], *, automatic: bool = False,
              whole: bool = True, of_outfit: int | None = None) -> tuple[int, list[tuple[int, str]]]:
    """Begin a run of cells in the place of the one before; return it, and the cells that are not known."""
    before = latest_trial(connection, production)
    if before:
        run(connection, "cancel_trial", trial=before.id)
    trial = number(connection, "add_trial", production=production, outfit=orjson.dumps(outfit).decode(), automatic=automatic, whole=whole,
                   of_outfit=of_outfit)
    taken = rows(connection, _Taken, "add_cells", trial=trial, wearers=[c.wearer for c in cells], poses=[c.column for c in cells],
                 keys=[c.key for c in cells], wanted=[c.wanted for c in cells])
    run(connection, "count_cells", trial=trial)
    run(connection, "drop_automatic_trials", production=production)
    run(connection, "close_if_done", trial=trial)
    notify(connection, "trial", trial=trial)
    return trial, [(cell.wearer, cell.pose) for cell in taken if not cell.known]


def get_trial(connection: Connection, trial: int) -> TrialRow:
    """Return a run without its cells. Raises `NotFound` if there is none."""
    found = row(connection, TrialRow, "trial", trial=trial)
    return existing(found, what=f"there is no trial {trial}", where="the trial sheet", todo="Start a new one.")


def latest_trial(connection: Connection, production: int) -> TrialRow | None:
    """Return the newest run of a production."""
    return row(connection, TrialRow, "latest_trial", production=production)


def running_trials(connection: Connection) -> list[TrialRow]:
    """Return the runs under way."""
    return rows(connection, TrialRow, "running_trials")


def trials_of(connection: Connection, production: int, holds_cm2: float) -> list[BriefRow]:
    """Return the runs of a production, newest first; a cell holds that shows no more than `holds_cm2`."""
    return rows(connection, BriefRow, "trials_of", production=production, holds=holds_cm2)


def cells_of(connection: Connection, trial: int) -> list[CellRow]:
    """Return the cells of a run, wearer by wearer."""
    return rows(connection, CellRow, "cells_of", trial=trial)


def cells_before(connection: Connection, trial: int) -> list[CellRow]:
    """Return for each cell of a run that is not measured yet what it came to in the newest run that measured it."""
    return rows(connection, CellRow, "cells_before", trial=trial)


def cells_among(connection: Connection, trial: int, cells: Sequence[tuple[int, str]]) -> list[CellRow]:
    """Return those cells of a run that are among `cells` (wearer, column)."""
    return rows(connection, CellRow, "cells_among", trial=trial, wearers=[w for w, _ in cells], poses=[p for _, p in cells])


def open_columns(connection: Connection, trial: int, wearer: int) -> list[str]:
    """Return the columns of a wearer's cells that are neither measured nor failed."""
    return [found["pose"] for found in run(connection, "open_cells_of", trial=trial, wearer=wearer)]


def unexplained(connection: Connection, trial: int, wearer: int) -> list[CellRow]:
    """Return a wearer's failing cells whose causes are not known, worst first."""
    return rows(connection, CellRow, "unexplained_cells_of", trial=trial, wearer=wearer)


def is_running(connection: Connection, trial: int) -> bool:
    """Return whether a run is under way."""
    found = row(connection, TrialRow, "trial", trial=trial)
    return found is not None and found.state == "running"


def finish_cell(connection: Connection, trial: int, wearer: int, column: str, figures: Figures, picture: bytes) -> None:
    """Store what a cell came to, with its picture (a .png); the last cell closes the run."""
    run(connection, "lock_trial", trial=trial)
    run(connection, "finish_cell", trial=trial, wearer=wearer, pose=column, figures=Jsonb(figures_json(figures)),
        picture=put_blob(connection, picture, "png"))
    _came(connection, trial, wearer, column)


def fail_cell(connection: Connection, trial: int, wearer: int, column: str, error: str) -> None:
    """Store why a cell could not be measured; the last cell closes the run."""
    run(connection, "lock_trial", trial=trial)
    run(connection, "fail_cell", trial=trial, wearer=wearer, pose=column, error=error)
    _came(connection, trial, wearer, column)


def reopen_cells(connection: Connection, trial: int, wearer: int, columns: Sequence[str]) -> None:
    """Let a wearer's cells that could not be measured wait again, and their run with them."""
    run(connection, "reopen_cells", trial=trial, wearer=wearer, columns=list(columns))
    notify(connection, "trial", trial=trial)


def keep_causes(connection: Connection, trial: int, wearer: int, column: str, causes: Sequence[Cause]) -> None:
    """Store what a failing cell comes from."""
    run(connection, "keep_causes", trial=trial, wearer=wearer, pose=column, causes=Jsonb([cause.model_dump() for cause in causes]))
    notify(connection, "trial", trial=trial, wearer=wearer, pose=column)


def cancel_trial(connection: Connection, trial: int) -> None:
    """Stop a run; what is measured stays."""
    run(connection, "cancel_trial", trial=trial)
    notify(connection, "trial", trial=trial)


def figures_json(figures: Figures) -> dict[str, object]:
    """Return figures as they are stored: what they do not tell is left out."""
    return figures.model_dump(mode="json", exclude_none=True)


def _came(connection: Connection, trial: int, wearer: int, column: str) -> None:
    run(connection, "close_if_done", trial=trial)
    notify(connection, "trial", trial=trial, wearer=wearer, pose=column)
