"""What becomes of work whose job is given up, stopped by an artist, or tried again: by kind of job, so that nothing waits for ever."""

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from ..store import aparts
from ..store.db import Connection, transaction
from ..store.rail import bakes, pieces, wear
from ..store.rail.pieces import Problem
from ..store.rail.wear import WaitingRow
from ..store.sheet import hunts, plans, trials
from ..store.stock import batches
from . import dressings
from .job_watch import STOPPED


def give_up(task: str, values: Mapping[str, Any], why: str) -> bool:
    """Store on what a job is about that it could not be done, and why; return whether jobs of that kind are told of there."""
    do = _GIVEN_UP.get(task)
    if do is not None:
        with transaction() as connection:
            do(connection, why, **values)
    return do is not None


def stop(task: str, values: Mapping[str, Any]) -> None:
    """Store on what a job is about that an artist stopped it: of a run, what is done stays."""
    if task in _STOPPED:
        with transaction() as connection:
            _STOPPED[task](connection, **values)
    else:
        give_up(task, values, STOPPED)


def reopen(task: str, values: Mapping[str, Any]) -> None:
    """Let what was given up wait again."""
    if task in _REOPENED:
        with transaction() as connection:
            _REOPENED[task](connection, **values)


def _edit(connection: Connection, why: str, edit: int) -> None:
    row = pieces.get_edit(connection, edit)
    if row is not None and row.status == "waiting":
        todo = "Try again, or undo it." if why == STOPPED else "Undo it, or change this step. A piece of fewer faces takes less of both."
        pieces.fail(connection, row, Problem(what=why, where="this step", todo=todo))


def _dressing(connection: Connection, why: str, pieces: Sequence[int], **_: object) -> None:
    for piece in pieces:
        dressings.end_on(connection, piece, lambda edit: _edit(connection, why, edit))


def _file(connection: Connection, why: str, row: int) -> None:
    batches.end_file(connection, row, "refused", why, None)


def _apart(connection: Connection, why: str, apart: int, author: str) -> None:
    aparts.end_taking(connection, apart, "failed", why)


def _worn(connection: Connection, why: str, run_id: int, piece: int, wearer: int, author: str) -> None:
    wear.end_row(connection, WaitingRow(run=run_id, piece=piece, wearer=wearer), "needs", None, None, why)


def _bake(connection: Connection, why: str, bake: int) -> None:
    row = bakes.get_bake(connection, bake)
    if row is not None:
        bakes.end_bake(connection, row, "failed", why)


def _cells(connection: Connection, why: str, trial: int, wearer: int, columns: Sequence[str], **_: object) -> None:
    for column in trials.open_columns(connection, trial, wearer):
        if column in columns:
            trials.fail_cell(connection, trial, wearer, column, why)


def _part(connection: Connection, why: str, hunt: int, part: int) -> None:
    hunts.cancel_hunt(connection, hunt)


def _plan(connection: Connection, why: str, plan: int) -> None:
    plans.finish_plan(connection, plan, "failed", why=why)


def _stop_run(connection: Connection, run_id: int, **_: object) -> None:
    wear.cancel_run(connection, run_id)


def _stop_bake(connection: Connection, bake: int) -> None:
    row = bakes.get_bake(connection, bake)
    if row is not None:
        bakes.end_bake(connection, row, "cancelled")


def _stop_trial(connection: Connection, trial: int, **_: object) -> None:
    trials.cancel_trial(connection, trial)


def _stop_plan(connection: Connection, plan: int) -> None:
    row = plans.get_plan(connection, plan)
    if row is not None and row.state == "planning":
        plans.set_plan(connection, row, "cancelled")


def _open_edit(connection: Connection, edit: int) -> None:
    row = pieces.get_edit(connection, edit)
    if row is not None:
        pieces.wait_again(connection, row.piece, edit)


def _open_dressing(connection: Connection, pieces: Sequence[int], author: str, **_: object) -> None:
    dressings.begin_on(connection, pieces, author, lambda edit: _open_edit(connection, edit))


def _open_cells(connection: Connection, trial: int, wearer: int, columns: Sequence[str], **_: object) -> None:
    trials.reopen_cells(connection, trial, wearer, columns)


def _open_apart(connection: Connection, apart: int, author: str) -> None:
    aparts.begin_taking(connection, apart)


def _open_worn(connection: Connection, run_id: int, piece: int, wearer: int, author: str) -> None:
    wear.reopen_row(connection, run_id, piece, wearer)


def _open_part(connection: Connection, hunt: int, part: int) -> None:
    hunts.reopen_hunt(connection, hunt)


_GIVEN_UP: dict[str, Callable[..., None]] = {
    "evaluate_edit": _edit, "dress_pieces": _dressing, "take_in_file": _file, "take_apart": _apart, "wear_piece": _worn,
    "bake_drapes": _bake, "measure_wearer": _cells, "hunt_part": _part, "plan_sheet": _plan,
}
_STOPPED: dict[str, Callable[..., None]] = {
    "take_in_file": batches.cancel_batch_of, "wear_piece": _stop_run, "bake_drapes": _stop_bake, "measure_wearer": _stop_trial,
    "plan_sheet": _stop_plan,
}
_REOPENED: dict[str, Callable[..., None]] = {
    "evaluate_edit": _open_edit, "dress_pieces": _open_dressing, "measure_wearer": _open_cells,
    "take_in_file": batches.reopen_file, "take_apart": _open_apart, "wear_piece": _open_worn, "bake_drapes": bakes.reopen_bake,
    "hunt_part": _open_part, "plan_sheet": plans.reopen_plan,
}
