"""Trial sheets: start, follow, cancel."""

from collections.abc import Iterable
from typing import Literal

import orjson
from fastapi import APIRouter, Response

from ...core.errors import InputError, NotFound
from ...formats.png import read_png, write_sheet
from ...formats.trial_table import trial_csv
from ...jobs.keys import MOTION, cell_key, portions
from ...store.db import Connection, get_blob, one, run, transaction
from ...store.events import notify
from ...store.motions import motion_names, sheet_motions
from ...store.poses import pose_of
from ...store.shots import Kept, shots_key, shots_of
from ..deps import ProductionId, the_production
from ..dressing import worn
from ..queue import ask
from ..schemas import TrialCellOut, TrialOut
from ..schemas_clearing import TrialBriefOut

router = APIRouter(prefix="/api/trials", tags=["trials"])


@router.post("", status_code=201)
def start() -> TrialOut:
    """Measure every wearer in every pose; cells known from before are taken over at once."""
    with transaction() as connection:
        production = one(connection, "production")
        rows = run(connection, "pieces_of", production=production["id"]) if production else []
        cast = run(connection, "cast_of", production=production["id"]) if production else []
        on = _worn_by(rows, cast)
        cast = [w for w in cast if on[w["body_sha"]]]
        if not production or not cast:
            raise InputError(what="nothing is worn yet", where="the trial sheet", todo="Bring in a piece first.")
        running = one(connection, "latest_trial", production=production["id"])
        known = run(connection, "cells_of", trial=running["id"]) if running else []
        expected = {(c["wearer_id"], c["pose"]): (c["figures"] or {}).get("area_cm2", 0.0) for c in known}
        if running and running["state"] == "running":
            run(connection, "cancel_trial", trial=running["id"])
        columns = [row["pose"] for row in run(connection, "poses_of", production=production["id"])]
        shots = shots_of(connection, production["id"])
        columns += [MOTION + name for name in sheet_motions(connection, production["id"])]
        outfit = orjson.dumps({w["body_sha"] or "": on[w["body_sha"]] for w in cast}).decode()
        trial = run(connection, "add_trial", production=production["id"], outfit=outfit, total=len(cast) * len(columns))[0]["id"]
        missing: dict[int, list[str]] = {}
        cells = [(w["id"], column, _key(on, w, column, shots)) for w in cast for column in columns]
        who, where, keys = (list(x) for x in zip(*cells, strict=True)) if cells else ([], [], [])
        for cell in run(connection, "add_cells", trial=trial, wearers=who, poses=where, keys=keys):
            if not cell["known"]:
                missing.setdefault(cell["wearer_id"], []).append(cell["pose"])
        run(connection, "close_if_done", trial=trial)
        notify(connection, "trial", trial=trial)
    worst = {w: sorted(mine, key=lambda c: -expected.get((w, c), 0.0)) for w, mine in missing.items()}  # what was worst before comes first
    body_of = {w["id"]: w["body_sha"] for w in cast}
    for wearer_id in sorted(worst, key=lambda w: -expected.get((w, worst[w][0]), 0.0)):
        for part in portions(worst[wearer_id], len(worst)):
            ask("measure_wearer", trial=trial, wearer=wearer_id, columns=part, pieces=on[body_of[wearer_id]], shots=shots)
    return get(trial)


@router.get("")
def runs(production: ProductionId) -> list[TrialBriefOut]:
    """Return the runs of the sheet, newest first, to compare with."""
    with transaction() as connection:
        rows = run(connection, "trials_of", production=production)
    return [TrialBriefOut(**r) for r in rows]


@router.get("/latest")
def latest(production: ProductionId) -> TrialOut | None:
    """Return the newest run with its cells, none if nothing has been measured yet."""
    with transaction() as connection:
        return newest(connection, production)


def newest(connection: Connection, production: int) -> TrialOut | None:
    """Return the newest run of a production."""
    row = one(connection, "latest_trial", production=production)
    return _out(connection, row) if row else None


@router.get("/{trial}.{kind}", response_class=Response, responses={200: {"content": {"text/csv": {}, "image/png": {}}}})
def export(trial: int, kind: Literal["csv", "json", "png"]) -> Response:
    """Return a run of the sheet as a table (CSV), as data (JSON) or as one picture (PNG)."""
    made, name = get(trial), f"trial-sheet-{trial}.{kind}"
    with transaction() as connection:
        production = the_production(connection)
        cast = {w["id"]: w["name"] for w in run(connection, "cast_of", production=production["id"])}
        poses = {r["pose"]: pose_of(connection, r["pose"]).label for r in run(connection, "poses_of", production=production["id"])}
        poses |= {MOTION + name: label for name, label, _ in motion_names(connection)}
        pictures = {(c.wearer, c.pose): get_blob(connection, c.picture) for c in made.cells if c.picture} if kind == "png" else {}
    cells = [c for c in made.cells if c.wearer in cast]
    for c in cells:
        poses.setdefault(c.pose, c.pose)
    if kind == "csv":
        data, media = trial_csv([(cast[c.wearer], poses[c.pose], c.figures.model_dump() if c.figures else None) for c in cells]), "text/csv"
    elif kind == "json":
        told = [{"wearer": cast[c.wearer], "pose": c.pose, **(c.figures.model_dump() if c.figures else {"error": c.error})} for c in cells]
        data = orjson.dumps(
            {"trial": trial, "measured_at": made.started_at, "state": made.state, "cells": told}, option=orjson.OPT_INDENT_2
        )
        media = "application/json"
    else:
        shown = {
            (cast[c.wearer], c.pose): (c.figures.model_dump(), read_png(pictures[c.wearer, c.pose]))
            for c in cells
            if c.figures and (c.wearer, c.pose) in pictures
        }
        if not shown:
            raise InputError(what="no cell has a picture yet", where="the trial sheet", todo="Wait for the first cells.")
        who = list(dict.fromkeys(cast[c.wearer] for c in cells))
        data, media = write_sheet(str(production["name"]), who, list(dict.fromkeys(poses[c.pose] for c in cells)), shown), "image/png"
    return Response(data, media_type=media, headers={"Content-Disposition": f'attachment; filename="{name}"'})


@router.post("/{trial}/causes", status_code=202)
def explain_all(production: ProductionId, trial: int) -> TrialOut:
    """Ask for the cause of every failing cell of a run; they come in one by one."""
    made = get(trial)
    failing = {c.wearer for c in made.cells if c.figures and not c.figures.holds and c.causes is None}
    with transaction() as connection:
        outfit = orjson.loads(one(connection, "trial", trial=trial)["outfit"])  # type: ignore[index]
        cast = [w for w in run(connection, "cast_of", production=production) if w["id"] in failing]
    for w in cast:
        ask("explain_wearer", trial=trial, wearer=w["id"], pieces=outfit.get(w["body_sha"] or "", []))
    return made


@router.get("/{trial}")
def get(trial: int) -> TrialOut:
    """Return a trial with its cells."""
    with transaction() as connection:
        row = one(connection, "trial", trial=trial)
        if row is None:
            raise NotFound(what=f"there is no trial {trial}", where="the trial sheet", todo="Start a new one.")
        return _out(connection, row)


@router.delete("/{trial}")
def cancel(trial: int) -> TrialOut:
    """Stop a running trial; what is measured stays."""
    with transaction() as connection:
        run(connection, "cancel_trial", trial=trial)
        notify(connection, "trial", trial=trial)
    return get(trial)


def _out(connection: Connection, row: dict) -> TrialOut:
    cells = run(connection, "cells_of", trial=row["id"])
    pieces = run(connection, "pieces_of", production=row["production_id"])
    cast = {w["id"]: w for w in run(connection, "cast_of", production=row["production_id"])}
    shots = shots_of(connection, row["production_id"])
    on = _worn_by(pieces, cast.values())
    stale = {c["key"] for c in cells if c["key"] != _key(on, cast[c["wearer_id"]], c["pose"], shots)}
    return TrialOut(
        id=row["id"],
        state=row["state"],
        total=row["total"],
        done=sum(c["figures"] is not None for c in cells),
        seconds=float(row["seconds"]),
        started_at=row["started_at"],
        stale=bool(stale),
        cells=[
            TrialCellOut(wearer=c["wearer_id"], pose=c["pose"], figures=c["figures"], stale=c["key"] in stale, picture=c["picture_sha"],
                         error=c["error"], causes=c["causes"])
            for c in cells
        ],
    )


def _worn_by(rows: list[dict], cast: Iterable[dict]) -> dict[str | None, list[list[str]]]:
    """Return what is worn, by each body of the cast: name and geometry from the skin outwards."""
    return {body: [list(p) for p in worn(rows, body)] for body in {w["body_sha"] for w in cast}}


def _key(on: dict[str | None, list[list[str]]], wearer: dict, pose: str, shots: Kept) -> str:
    return cell_key(on[wearer["body_sha"]], wearer["shape"], pose, wearer["body_sha"], shots_key(shots, wearer["id"], pose))
