"""The job queue: procrastinate on the production's own PostgreSQL; asking for jobs, and asking again for what a crash left."""

from collections.abc import Callable
from functools import cache
from typing import Any, TypeVar

import procrastinate
from procrastinate import JobContext, RetryStrategy

from ..core.errors import NotFound
from ..store.db import await_schema, database_url
from ..studio import job_watch
from ..studio.given_up import give_up
from ..studio.work import Work
from .limits import Limit, at_work

app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=database_url(), min_size=1),
                        import_paths=["wily_heron.jobs.tasks"])
TRIES = 3
"""A job that failed so often, or ended so many workers, is set aside."""
_AGAIN = RetryStrategy(max_attempts=TRIES - 1, wait=1)
_LEFT: list[Callable[[], list[Work]]] = []
Do = TypeVar("Do", bound=Callable[..., None])


def task(name: str, limit: Limit | None = None, left: Callable[[], list[Work]] | None = None) -> Callable[[Do], Do]:
    """Register a job under the name by which it is asked for; `left` tells what a crash left of its kind."""
    held = limit or Limit()

    def register(do: Do) -> Do:
        if left is not None:
            _LEFT.append(left)

        @app.task(name=name, retry=_AGAIN, pass_context=True)
        def _run(context: JobContext, **values: Any) -> None:
            with at_work(context.job.id or 0, held):
                try:
                    do(**values)
                except Exception as error:
                    if isinstance(error, NotFound) and job_watch.is_wanted(context.job.id or 0) != "yes":
                        return  # deleted meanwhile
                    if context.job.attempts + 1 >= TRIES:
                        _failed(context, values, error)
                    raise

        return do

    return register


def _failed(context: JobContext, values: dict[str, Any], error: Exception) -> None:
    why = (str(error) or type(error).__name__)[:300]
    give_up(context.job.task_name, values, why)
    job_watch.note(context.job.id or 0, why, failed=True)


@cache
def _client() -> procrastinate.App:
    client = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=database_url(), min_size=1))
    client.open()
    return client


def ask(work: Work) -> None:
    """Put a job in the queue."""
    _client().configure_task(work.task, priority=work.priority).defer(**work.values)


def left_open() -> list[Work]:
    """Return all work that waits to be done, of every kind of job."""
    return [work for left in _LEFT for work in left()]


def resume() -> None:
    """Ask again for what a crash left open, once the database has its schema."""
    await_schema()
    for work in left_open():
        ask(work)
