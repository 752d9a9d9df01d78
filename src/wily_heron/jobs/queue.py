"""The job queue: procrastinate on the production's own PostgreSQL."""

import procrastinate

from ..store.db import database_url


def make_app() -> procrastinate.App:
    """Return the queue bound to the launcher's database, with the house's tasks."""
    return procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=database_url()), import_paths=["wily_heron.jobs.tasks"])


app = make_app()
