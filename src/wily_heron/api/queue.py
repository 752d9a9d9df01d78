"""Asking for jobs from a request."""

from functools import cache

import orjson
import procrastinate

from ..core.figure.figure import figure_version
from ..store.db import database_url, one, run, transaction
from ..store.pieces import renew_for


@cache
def _app() -> procrastinate.App:
    app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=database_url()))
    app.open()
    return app


def ask(task: str, priority: int = 0, **values) -> None:
    """Put a job in the queue; greater priority goes first."""
    _app().configure_task(task, priority=priority).defer(**values)


def resume() -> None:
    """Ask again for what a crash left open: edits not evaluated, cells not measured, stock not drawn, drapes not baked.

    After an update that brings another figure, every piece is evaluated anew from its recipe.
    """
    with transaction() as connection:
        renew_for(connection, figure_version())
        undrawn = [row["id"] for row in run(connection, "undrawn_stock")]
        files = [row["id"] for row in run(connection, "waiting_batch_rows")]
        edits = [row["id"] for row in run(connection, "waiting_edits")]
        trials = connection.execute("select id, outfit from trial where state = 'running'").fetchall()
        cells = [(t, c) for t in trials for c in run(connection, "cells_of", trial=t["id"]) if c["figures"] is None and c["error"] is None]
        bodies = {c["wearer_id"]: (one(connection, "wearer", wearer=c["wearer_id"]) or {}).get("body_sha") for _, c in cells}
        baking = [row["id"] for row in run(connection, "running_bakes")]
        taking = [row["id"] for row in connection.execute("select id from apart where state = 'taking'").fetchall()]
    for edit in edits:
        ask("evaluate_edit", priority=10, edit=edit)
    for item in undrawn:
        ask("draw_strip", priority=1, item=item)
    for row in files:
        ask("take_in_file", priority=5, row=row)
    for apart in taking:
        ask("take_apart", priority=8, apart=apart, author="Artist")
    for bake in baking:
        ask("bake_drapes", priority=4, bake=bake)
    for trial, cell in cells:
        pieces = orjson.loads(trial["outfit"]).get(bodies[cell["wearer_id"]] or "", [])
        ask("measure_cell", trial=trial["id"], wearer=cell["wearer_id"], pose=cell["pose"], pieces=pieces)
