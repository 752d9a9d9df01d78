"""The job queue: procrastinate on the production's own PostgreSQL."""

import procrastinate

from ..store.db import database_url

app = procrastinate.App(
    connector=procrastinate.PsycopgConnector(conninfo=database_url(), min_size=1),
    import_paths=["wily_heron.jobs.tasks", "wily_heron.jobs.stocking", "wily_heron.jobs.taking_apart",
                  "wily_heron.jobs.wearing", "wily_heron.jobs.clearing", "wily_heron.jobs.baking", "wily_heron.jobs.measuring",
                  "wily_heron.jobs.hunting", "wily_heron.jobs.explaining"],
)
