"""Work that no job is about any more, and jobs whose worker is no more: both are asked for again, so that nothing waits for ever."""

import asyncio
import json
from collections.abc import Mapping
from contextlib import suppress
from typing import Any

import structlog
from procrastinate import App
from procrastinate.exceptions import AlreadyEnqueued, ConnectorException
from procrastinate.jobs import Status

from ..studio import job_watch
from ..studio.given_up import give_up, stop
from ..studio.work import Work
from .queue import TRIES, left_open

DEAD = 12.0
"""Seconds without a sign of life from a worker until its job is given to another."""
_ENDS = "the computation stopped unexpectedly, three times"
"""Why a job is set aside when so many workers have ended over it: a piece too large for the memory would end each in turn."""

_RUN_EDITS = ("dress_pieces", "fit_outfit", "wear_piece")
"""Jobs that run the edits they make: until they end, an edit without a job may be in their hands."""
_OPEN = (Status.TODO.value, Status.DOING.value)


class Lost:
    """Finds work that waits without a job.

    Once is not enough: a change is stored a moment before its job is asked for. What is found twice is asked for. A job that failed
    counts as one, so that what fails is not begun again and again; a start of the server asks for that too.
    """

    def __init__(self) -> None:
        self._found: set[str] = set()

    async def ask_again(self, app: App) -> list[Work]:
        """Ask for what had no job at the last call and has none now; return it."""
        waiting = {_about(work.task, work.values): work for work in await asyncio.to_thread(left_open)}
        jobs = [job for job in await app.job_manager.list_jobs_async() if job.status in (*_OPEN, Status.FAILED.value)]
        if any(job.task_name in _RUN_EDITS and job.status in _OPEN for job in jobs):
            waiting = {about: work for about, work in waiting.items() if work.task != "evaluate_edit"}
        without = waiting.keys() - {_about(job.task_name, job.task_kwargs) for job in jobs}
        again = sorted(without & self._found)
        self._found = without - set(again)
        for about in again:
            work = waiting[about]
            with suppress(AlreadyEnqueued):  # by another worker that found it too
                await app.configure_task(work.task, priority=work.priority, queueing_lock=about).defer_async(**work.values)
        return [waiting[about] for about in again]


async def end_noted(app: App) -> None:
    """End the jobs whose process was ended by its worker: what they are about is told of it, as given up or as stopped."""
    for row in await asyncio.to_thread(job_watch.ended):
        if row.failed:
            await asyncio.to_thread(give_up, row.task, row.values, row.why)
        else:
            await asyncio.to_thread(stop, row.task, row.values)
        with suppress(ConnectorException):  # another worker was as quick
            await app.job_manager.finish_job_by_id_async(row.job, Status.FAILED if row.failed else Status.ABORTED,
                                                         delete_job=not row.failed)


async def rescue(app: App) -> None:
    """Ask again for the jobs of workers that are no more: all are safe to run twice. One that has ended too many workers is set aside."""
    log = structlog.get_logger()
    for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=DEAD):
        if job.attempts + 1 >= TRIES and await asyncio.to_thread(give_up, job.task_name, job.task_kwargs, _ENDS):
            log.error("a job has ended its workers; it is set aside", job=job.task_name, attempts=job.attempts + 1)
            await asyncio.to_thread(job_watch.note, job.id or 0, _ENDS, True)
            await app.job_manager.finish_job(job, Status.FAILED, delete_job=False)
        else:
            log.warning("a worker died; its job is taken up again", job=job.task_name)
            await app.job_manager.retry_job(job)


def _about(task: str, values: Mapping[str, Any]) -> str:
    """Return what a job is about: the rows that it names. What else it is told changes as it goes on."""
    return json.dumps([task, {name: value for name, value in sorted(values.items()) if isinstance(value, int)}])
