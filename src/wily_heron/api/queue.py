"""Asking for jobs from a request."""

from functools import cache

import orjson
import procrastinate

from ..core.figure.figure import figure_version
from ..store.db import database_url, run, transaction
from ..store.pieces import renew_for


@cache
def _app() -> procrastinate.App:
    app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=database_url(), min_size=1))
    app.open()
    return app


def ask(task: str, priority: int = 0, **values) -> None:
    """Put a job in the queue; greater priority goes first."""
    _app().configure_task(task, priority=priority).defer(**values)


def resume() -> None:
    """Ask again for what a crash left open: edits not evaluated, cells not measured, stock not drawn, drapes not baked, plans not made.

    After an update that brings another figure, every piece is evaluated anew from its recipe.
    """
    with transaction() as connection:
        renew_for(connection, figure_version())
        undrawn = [row["id"] for row in run(connection, "undrawn_stock")]
        files = [row["id"] for row in run(connection, "waiting_batch_rows")]
        edits = [row["id"] for row in run(connection, "waiting_edits")]
        trials = connection.execute("select id, production_id, outfit from trial where state = 'running'").fetchall()
        left = [(t, w, run(connection, "open_cells_of", trial=t["id"], wearer=w["id"])) for t in trials
                for w in run(connection, "cast_of", production=t["production_id"])]
        hunts = [(h["hunt_id"], h["part"]) for h in run(connection, "open_hunt_parts")]
        plans = [row["id"] for row in run(connection, "open_plans")]
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
    for trial, wearer, cells in left:
        if cells:
            pieces = orjson.loads(trial["outfit"]).get(wearer["body_sha"] or "", [])
            ask("measure_wearer", trial=trial["id"], wearer=wearer["id"], columns=[c["pose"] for c in cells], pieces=pieces)
    for hunt, part in hunts:
        ask("hunt_part", hunt=hunt, part=part)
    for plan in plans:
        ask("plan_sheet", priority=8, plan=plan)
