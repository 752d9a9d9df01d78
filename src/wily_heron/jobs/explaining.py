"""Telling what the failing cells of a trial come from, a job a wearer."""

import structlog
from procrastinate import RetryStrategy
from psycopg.types.json import Jsonb

from ..core.clearance.cell import CLEAN_AREA
from ..core.errors import HeronError
from ..core.explain.case import Case
from ..core.explain.explain import main_causes
from ..core.figure.base.body import shape_values
from ..core.motion.own_poses import pose_for
from ..core.motion.pose import Pose
from ..store.bodies import body_for
from ..store.db import one, run, transaction
from ..store.events import notify
from ..store.pieces import piece_at
from ..store.poses import pose_of
from .keys import MOTION
from .origins import refit_of
from .queue import app

log = structlog.get_logger()


@app.task(name="explain_wearer", retry=RetryStrategy(max_attempts=3, wait=1))
def explain_wearer(trial: int, wearer: int, pieces: list[list[str]]) -> None:
    """Store the causes of each failing cell of a wearer that has none yet, worst first. Safe to run twice."""
    with transaction() as connection:
        who = one(connection, "wearer", wearer=wearer)
        cells = run(connection, "unexplained_cells_of", trial=trial, wearer=wearer)
        if who is None:
            return
        rows = run(connection, "pieces_of", production=who["production_id"]) if cells else []
        refits = {sha: refit_of(connection, who["production_id"], r) for _, sha in pieces for r in rows if r["worn_sha"] == sha}
    body = body_for(who["body_sha"], who["shape"])
    worn, shape = {name: piece_at(sha) for name, sha in pieces}, shape_values(body, who["shape"])
    for cell in cells:
        told = []
        for figures in cell["figures"]["pairs"]:
            if figures["area_cm2"] <= 1e4 * CLEAN_AREA:
                continue
            try:
                case = Case.of(worn, body, shape, _pose(cell), figures["over"], figures["under"])
                causes = main_causes(case, refits.get(dict(pieces)[figures["over"]]))
            except Exception as error:  # one cell that cannot be explained must not keep the others waiting
                if not isinstance(error, HeronError):
                    log.exception("explaining failed", trial=trial, wearer=wearer, pose=cell["pose"])
                continue
            told += [{"over": figures["over"], "under": figures["under"], "kind": c.kind, "words": c.words} for c in causes]
        with transaction() as connection:
            run(connection, "tell_causes", trial=trial, wearer=wearer, pose=cell["pose"], causes=Jsonb(told))
            notify(connection, "trial", trial=trial)


def _pose(cell: dict) -> Pose:
    if cell["pose"].startswith(MOTION):
        return pose_for(cell["pose"], cell["figures"]["rotations"])
    with transaction() as connection:
        return pose_of(connection, cell["pose"])
