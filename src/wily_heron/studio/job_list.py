"""The list of jobs: what is done for whom, since when, how far it is; stopped, tried again, taken off."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ..core.errors import InputError
from ..store import jobs as store
from ..store.db import Connection, transaction
from ..store.jobs import AboutRow, JobRow
from . import given_up
from .work import Ask, Work

State = Literal["doing", "waiting", "stopping", "failed"]
_PASSING = ("draw_strip",)
"""Drawn in a moment and asked for again wherever a picture is missing: stopping it would do nothing."""


@dataclass(frozen=True)
class JobLine:
    """Jobs that do one thing together, or one alone: `job` is one of them, `count` how many are left.

    `task` is the kind of the work, `subject` what it is done to; `done` of `total` is how far that is, 0 of 0 where it has no parts.
    """

    job: int
    task: str
    subject: str
    production: int | None
    author: str
    state: State
    asked_at: datetime | None
    begun_at: datetime | None
    done: int
    total: int
    count: int
    why: str | None
    can_stop: bool


def lines() -> list[JobLine]:
    """Return what is being done, what waits, and what has failed, in this order; jobs of one thing are one line."""
    with transaction() as connection:
        found = store.jobs(connection)
        groups = _groups(connection, found)
    return [_line(jobs, about) for jobs, about in groups]


def stop(job: int) -> None:
    """Stop a job and those that do the same thing with it; what is done of that stays. Raises `NotFound` if there is none."""
    with transaction() as connection:
        asked = store.get_job(connection, job)
        mine = next((jobs for jobs, _ in _groups(connection, store.jobs(connection)) if any(j.id == job for j in jobs)), [asked])
        for each in mine:
            if not store.drop(connection, each.id):
                store.stop(connection, each.id)
    for each in mine:
        given_up.stop(each.task, each.values)


def again(job: int, ask: Ask) -> None:
    """Try a job that failed once more. Raises `NotFound` if there is none, `InputError` for one that has not failed."""
    with transaction() as connection:
        row = _failed(connection, job)
        store.drop(connection, job)
    given_up.reopen(row.task, row.values)
    ask(Work(row.task, row.priority, row.values))


def dismiss(job: int) -> None:
    """Take a job that failed off the list. Raises `NotFound` if there is none, `InputError` for one that has not failed."""
    with transaction() as connection:
        _failed(connection, job)
        store.drop(connection, job)
        store.forget_notes(connection)


def _failed(connection: Connection, job: int) -> JobRow:
    row = store.get_job(connection, job)
    if row.status != "failed":
        raise InputError(what="this job has not failed", where="the list of jobs", todo="Wait for it, or stop it.")
    return row


def _groups(connection: Connection, found: Sequence[JobRow]) -> list[tuple[list[JobRow], list[AboutRow]]]:
    """Return jobs by what they do one thing of, each with what that is; failed ones stand alone."""
    about: dict[int, list[AboutRow]] = {}
    for task in dict.fromkeys(job.task for job in found):
        of = [job for job in found if job.task == task]
        about |= {job.id: there for job, there in zip(of, store.about(connection, task, [job.values for job in of]), strict=True)}
    groups: dict[tuple[object, ...], tuple[list[JobRow], list[AboutRow]]] = {}
    for job in found:
        there = about[job.id]
        key = (job.task, job.id) if job.status == "failed" or not there else (job.task, *(each.thing for each in there))
        groups.setdefault(key, ([], there))[0].append(job)
    return list(groups.values())


def _line(jobs: Sequence[JobRow], about: Sequence[AboutRow]) -> JobLine:
    first = jobs[0]
    stopping = all(job.stopping for job in jobs if job.status == "doing")
    state: State = "failed" if first.status == "failed" else "waiting" if first.status == "todo" else "stopping" if stopping else "doing"
    told = str(first.values.get("author", ""))
    return JobLine(job=first.id, task=first.task, subject=", ".join(each.subject for each in about if each.subject),
                   production=about[0].production if about else None, author=next((a.author for a in about if a.author), told),
                   state=state, asked_at=min((j.asked_at for j in jobs if j.asked_at), default=None),
                   begun_at=min((j.begun_at for j in jobs if j.begun_at and j.status == "doing"), default=None),
                   done=about[0].done if about else 0, total=about[0].total if about else 0, count=len(jobs), why=first.why,
                   can_stop=state in ("doing", "waiting") and first.task not in _PASSING)
