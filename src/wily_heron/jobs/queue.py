"""The job queue: procrastinate on the production's own PostgreSQL; asking for jobs, and asking again for what a crash left."""

from collections.abc import Callable, Mapping
from functools import cache
from typing import Any, TypeVar

import procrastinate
from procrastinate import RetryStrategy

from ..store.db import await_schema, database_url
from ..studio.work import Work

app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=database_url(), min_size=1),
                        import_paths=["wily_heron.jobs.tasks"])
_AGAIN = RetryStrategy(max_attempts=3, wait=1)
_LEFT: list[Callable[[], list[Work]]] = []
_ASIDE: dict[str, Callable[..., None]] = {}
Do = TypeVar("Do", bound=Callable[..., None])


def task(name: str, left: Callable[[], list[Work]] | None = None, aside: Callable[..., None] | None = None) -> Callable[[Do], Do]:
    """Register a job under the name by which it is asked for; `left` tells what a crash left of its kind, `aside` takes what it is told
    and stores that it cannot be done."""

    def register(do: Do) -> Do:
        if left is not None:
            _LEFT.append(left)
        if aside is not None:
            _ASIDE[name] = aside
        app.task(name=name, retry=_AGAIN)(do)
        return do

    return register


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


def set_aside(name: str, values: Mapping[str, Any]) -> bool:
    """Store that a job cannot be done; return whether jobs of that name can be set aside at all."""
    if name in _ASIDE:
        _ASIDE[name](**values)
    return name in _ASIDE


def resume() -> None:
    """Ask again for what a crash left open, once the database has its schema."""
    await_schema()
    for work in left_open():
        ask(work)
