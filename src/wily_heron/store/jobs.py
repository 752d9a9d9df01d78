"""The queue's rows, read beside what they are about; and why a job was ended."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any, Literal

from .db import Connection, Row, changed, existing, row, rows, run

Status = Literal["doing", "todo", "failed", "succeeded", "cancelled", "aborting", "aborted"]

Wanted = Literal["yes", "stop", "gone"]


class JobRow(Row):
    """A job: what it is to do of what, since when it waits and is done, whether it is to stop, and why it failed if it did."""

    id: int
    task: str
    values: dict[str, Any]
    status: Status
    priority: int
    stopping: bool
    why: str | None
    asked_at: datetime | None
    begun_at: datetime | None


class EndedRow(Row):
    """A job whose process was ended: why, and whether that counts as a failure."""

    job: int
    task: str
    values: dict[str, Any]
    why: str
    failed: bool


class AboutRow(Row):
    """What a job is about: `of` is the row that it names, `thing` what its jobs are one of, `done` of `total` how far that is."""

    of: int
    thing: int
    production: int | None
    subject: str
    author: str
    done: int
    total: int


ABOUT: dict[str, tuple[str, str]] = {
    "evaluate_edit": ("edit", "about_edits"), "dress_pieces": ("pieces", "about_pieces"), "fit_outfit": ("outfit", "about_outfits"),
    "take_in_file": ("row", "about_batch_rows"), "draw_strip": ("item", "about_items"), "take_apart": ("apart", "about_aparts"),
    "wear_piece": ("run_id", "about_wear_runs"), "bake_drapes": ("bake", "about_bakes"), "measure_wearer": ("trial", "about_trials"),
    "explain_wearer": ("trial", "about_trials"), "hunt_part": ("hunt", "about_hunts"), "plan_sheet": ("plan", "about_plans"),
}
"""By kind of job: the value that names what it is about, and the query that finds that."""


def jobs(connection: Connection) -> list[JobRow]:
    """Return all jobs that are done, wait, or have failed, in the order in which they are done."""
    return rows(connection, JobRow, "jobs")


def get_job(connection: Connection, job: int) -> JobRow:
    """Return a job. Raises `NotFound` if the queue has none."""
    return existing(row(connection, JobRow, "job", job=job), what=f"there is no job {job}", where="the list of jobs",
                    todo="It has ended already.")


def about(connection: Connection, task: str, some: Sequence[Mapping[str, Any]]) -> list[list[AboutRow]]:
    """Return what is there of that which each of `some` jobs of a kind is about: nothing where it is gone."""
    if task not in ABOUT:
        return [[] for _ in some]
    name, query = ABOUT[task]
    named = [values[name] if isinstance(values[name], list) else [values[name]] for values in some]
    found = rows(connection, AboutRow, query, some=list({number for numbers in named for number in numbers}))
    return [[each for each in found if each.of in numbers] for numbers in named]


def is_wanted(connection: Connection, job: int) -> Wanted:
    """Return whether a job at work is to go on: it may have been told to stop, or what it is about may be gone."""
    found = row(connection, JobRow, "job", job=job)
    if found is None or found.stopping:
        return "stop"
    return "yes" if found.task not in ABOUT or about(connection, found.task, [found.values])[0] else "gone"


def urgent_waits(connection: Connection) -> bool:
    """Return whether a job that an artist waits for waits itself."""
    return changed(connection, "urgent_job_waits")


def note(connection: Connection, job: int, why: str, failed: bool) -> None:
    """Note why a job is at an end."""
    run(connection, "note_job", job=job, why=why, failed=failed)


def ended(connection: Connection) -> list[EndedRow]:
    """Return the jobs whose process was ended and which the queue still takes to be at work."""
    return rows(connection, EndedRow, "ended_jobs")


def forget_notes(connection: Connection) -> None:
    """Forget what is noted of jobs that are no more."""
    run(connection, "forget_job_notes")


def drop(connection: Connection, job: int) -> bool:
    """Take a job that waits or has failed out of the queue; return whether it was one."""
    return changed(connection, "drop_job", job=job)


def stop(connection: Connection, job: int) -> bool:
    """Ask the worker of a job to end it; return whether it is at work."""
    return changed(connection, "stop_job", job=job)
