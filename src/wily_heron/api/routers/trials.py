"""Trial sheets: start, follow, cancel."""

import orjson
from fastapi import APIRouter

from ...core.errors import InputError
from ...jobs.keys import cell_key
from ...store.db import Connection, one, run, tell, transaction
from ..dressing import worn
from ..queue import ask
from ..schemas import TrialCellOut, TrialOut

router = APIRouter(prefix="/api/trials", tags=["trials"])


@router.post("", status_code=201)
def start() -> TrialOut:
    """Measure every wearer in every pose; cells known from before are taken over at once."""
    with transaction() as connection:
        production = one(connection, "production")
        rows = run(connection, "pieces_of", production=production["id"]) if production else []
        cast = run(connection, "cast_of", production=production["id"]) if production else []
        cast = [w for w in cast if worn(rows, w["body_sha"])]
        if not production or not cast:
            raise InputError(what="nothing is worn yet", where="the trial sheet", todo="Bring in a piece first.")
        running = one(connection, "latest_trial", production=production["id"])
        if running and running["state"] == "running":
            run(connection, "cancel_trial", trial=running["id"])
        poses = [row["pose"] for row in run(connection, "poses_of", production=production["id"])]
        outfit = orjson.dumps({w["body_sha"] or "": worn(rows, w["body_sha"]) for w in cast}).decode()
        trial = run(connection, "add_trial", production=production["id"], outfit=outfit, total=len(cast) * len(poses))[0]["id"]
        missing = []
        for wearer in cast:
            plain = [list(p) for p in worn(rows, wearer["body_sha"])]
            for pose in poses:
                key = _key(rows, wearer, pose)
                row = run(connection, "add_cell", trial=trial, wearer=wearer["id"], pose=pose, key=key)[0]
                if not row["known"]:
                    missing.append((wearer["id"], pose, plain))
        run(connection, "close_if_done", trial=trial)
        tell(connection, "trial", trial=trial)
    for wearer_id, pose, plain in missing:
        ask("measure_cell", trial=trial, wearer=wearer_id, pose=pose, pieces=plain)
    return get(trial)


@router.get("/{trial}")
def get(trial: int) -> TrialOut:
    """Return a trial with its cells."""
    with transaction() as connection:
        row = one(connection, "trial", trial=trial)
        if row is None:
            raise InputError(what=f"there is no trial {trial}", where="the trial sheet", todo="Start a new one.")
        return _out(connection, row)


@router.delete("/{trial}")
def cancel(trial: int) -> TrialOut:
    """Stop a running trial; what is measured stays."""
    with transaction() as connection:
        run(connection, "cancel_trial", trial=trial)
        tell(connection, "trial", trial=trial)
    return get(trial)


def latest(connection: Connection, production: int) -> TrialOut | None:
    """Return the newest trial of a production."""
    row = one(connection, "latest_trial", production=production)
    return _out(connection, row) if row else None


def _out(connection: Connection, row: dict) -> TrialOut:
    cells = run(connection, "cells_of", trial=row["id"])
    pieces = run(connection, "pieces_of", production=row["production_id"])
    cast = {w["id"]: w for w in run(connection, "cast_of", production=row["production_id"])}
    stale = any(c["key"] != _key(pieces, cast[c["wearer_id"]], c["pose"]) for c in cells)
    return TrialOut(
        id=row["id"], state=row["state"], total=row["total"], done=sum(c["figures"] is not None for c in cells),
        seconds=float(row["seconds"]), started_at=row["started_at"], stale=stale,
        cells=[TrialCellOut(wearer=c["wearer_id"], pose=c["pose"], figures=c["figures"], picture=c["picture_sha"], error=c["error"])
               for c in cells],
    )


def _key(rows: list[dict], wearer: dict, pose: str) -> str:
    return cell_key([list(p) for p in worn(rows, wearer["body_sha"])], wearer["shape"], pose, wearer["body_sha"])
