"""The clear step: explaining a cell, leaving one, pinning, and plans that clear the whole sheet."""

from collections.abc import Iterator

import orjson
from fastapi import APIRouter
from fastapi.responses import StreamingResponse
from psycopg.types.json import Jsonb

from ...core.bench.recipe import Recipe
from ...core.errors import HeronError, InputError
from ...core.explain.case import Case
from ...core.explain.explain import Cause, Refit, explain
from ...core.explain.remedies import Remedy, Trying
from ...core.figure.base.body import shape_values
from ...core.figure.base.pose_types import REST
from ...core.motion.own_poses import pose_for
from ...jobs.origins import refit_of
from ...store import pieces as store
from ...store.arrays import piece_textures
from ...store.bodies import body_for, carrier_of
from ...store.db import Connection, get_blob, one, run, transaction
from ...store.events import notify
from ...store.pieces import piece_at
from ...store.poses import pose_of
from ...store.shots import shots_in, shots_of
from ..deps import Artist, ProductionId, the_production
from ..dressing import worn
from ..queue import ask
from ..schemas_clearing import (
    CauseOut,
    ExplainedOut,
    ExplainIn,
    PinIn,
    PinOut,
    PlanCellOut,
    PlanIn,
    PlanLineOut,
    PlanOut,
    RemedyOut,
    WaiverIn,
    WaiverOut,
)

router = APIRouter(prefix="/api", tags=["clear"])
_POSES_BESIDE, _WEARERS_BESIDE = 2, 1
"""Cells beside the one in question that a remedy must not spoil: more are tried by a plan of the whole sheet."""


@router.post("/explain", response_class=StreamingResponse, responses={200: {"model": ExplainedOut}})
def explain_cell(asked: ExplainIn) -> StreamingResponse:
    """Explain what shows in a cell and try remedies; one JSON line (`ExplainedOut`) as each is found. Hang up to stop."""
    case, trying, refit = _case(asked)
    return StreamingResponse(_lines(case, trying, refit), media_type="application/x-ndjson")


def _case(asked: ExplainIn) -> tuple[Case, Trying, Refit | None]:
    cell = asked.cell
    body = body_for(cell.body, cell.shape)
    shape, pose = shape_values(body, cell.shape), pose_for(cell.pose, cell.rotations)
    with transaction() as connection:
        production = the_production(connection)["id"]
        every = run(connection, "pieces_of", production=production)
        rows = worn(every, cell.body, unfinished=True)
        cast = [w for w in run(connection, "cast_of", production=production) if w["body_sha"] == cell.body and w["id"] != asked.wearer]
        poses = [pose_of(connection, r["pose"]) for r in run(connection, "poses_of", production=production)]
        shots = shots_in(shots_of(connection, production), asked.wearer, cell.pose)
    pieces = {name: piece_at(sha) for name, sha in rows}
    if asked.over not in pieces:
        raise InputError(what=f"{asked.over} is not worn here", where="explaining", todo="Choose a piece of this wearer's rail.")
    case = Case.of(pieces, body, shape, pose, asked.over, asked.under)
    with transaction() as connection:
        refit = refit_of(connection, production, next(r for r in every if r["geometry_sha"] == dict(rows)[asked.over]))
    near = [(shape, REST), *((shape, p) for p in poses if p.name != pose.name)][:_POSES_BESIDE]
    others = [(shape_values(body, w["shape"]), pose) for w in cast][:_WEARERS_BESIDE]
    return case, Trying(case, asked.ease, [*near, *others], carrier_of(cell.body or "", cell.shape), shots), refit


def _lines(case: Case, trying: Trying, refit: Refit | None) -> Iterator[bytes]:
    say = lambda **what: orjson.dumps(ExplainedOut(**what).model_dump(mode="json")) + b"\n"  # noqa: E731
    try:
        yield say(trying="Undoing one factor at a time")
        for cause in explain(case, refit):
            yield say(cause=cause_out(cause))
        yield say(trying="Trying remedies")
        for remedy in trying.all():
            yield say(remedy=remedy_out(remedy))
    except HeronError as error:
        yield say(trying=str(error))
    yield say(done=True)


def cause_out(cause: Cause) -> CauseOut:
    """Return a cause as it goes over the wire."""
    return CauseOut(kind=cause.kind, words=cause.words, left_cm2=round(cause.left, 3), is_cause=cause.is_cause)


def remedy_out(r: Remedy) -> RemedyOut:
    """Return a remedy as it goes over the wire."""
    return RemedyOut(
        kind=r.kind,
        words=r.words,
        do=r.do,
        area_cm2=r.area,
        depth_mm=r.depth,
        move_mm=r.move,
        edges_percent=r.edges,
        folds_degrees=r.folds,
        hidden=r.hidden,
        worse=r.worse,
        neighbours=r.near,
        holds=r.holds,
        cost=round(r.cost, 2),
    )


@router.get("/waivers")
def waivers(production: ProductionId) -> list[WaiverOut]:
    """Return what is left as it is, with the reasons."""
    with transaction() as connection:
        rows = run(connection, "waivers_of", production=production)
    return [
        WaiverOut(
            id=r["id"],
            wearer=r["wearer_id"],
            pose=r["pose"],
            over=r["over_piece"],
            reason=r["reason"],
            by_shots=r["by_shots"],
            author=r["author"],
            made_at=r["made_at"],
        )
        for r in rows
    ]


@router.post("/waivers", status_code=201)
def waive(production: ProductionId, artist: Artist, asked: WaiverIn) -> list[WaiverOut]:
    """Leave what shows through a piece in a cell as it is; it stays on the list with its reason."""
    with transaction() as connection:
        run(
            connection,
            "waive",
            production=production,
            wearer=asked.wearer,
            pose=asked.pose,
            over=asked.over,
            reason=asked.reason,
            by_shots=asked.by_shots,
            author=artist,
        )
        notify(connection, "trial", trial=0)
    return waivers(production)


@router.delete("/waivers/{waiver}")
def unwaive(production: ProductionId, waiver: int) -> list[WaiverOut]:
    """Count it again."""
    with transaction() as connection:
        run(connection, "unwaive", waiver=waiver, production=production)
        notify(connection, "trial", trial=0)
    return waivers(production)


@router.get("/pins")
def pins(production: ProductionId) -> list[PinOut]:
    """Return the cells that matter."""
    with transaction() as connection:
        rows = run(connection, "pins_of", production=production)
    return [PinOut(wearer=r["wearer_id"], pose=r["pose"]) for r in rows]


@router.put("/pins")
def pin(production: ProductionId, asked: PinIn) -> list[PinOut]:
    """Pin a cell, or take its pin out."""
    with transaction() as connection:
        run(connection, "pin" if asked.pinned else "unpin", production=production, wearer=asked.wearer, pose=asked.pose)
        notify(connection, "trial", trial=0)
    return pins(production)


@router.post("/plans", status_code=201)
def plan(production: ProductionId, artist: Artist, asked: PlanIn | None = None) -> PlanOut:
    """Plan what clears the sheet, or the outfit in one cell of it, as a job: nothing is changed until the plan is carried out."""
    with transaction() as connection:
        before = one(connection, "latest_plan", production=production)
        if before and before["state"] == "planning":
            run(connection, "set_plan", plan=before["id"], state="cancelled", edits=Jsonb([]))
        made = run(connection, "add_plan", production=production, cell=Jsonb(asked.model_dump()) if asked else None)[0]["id"]
        notify(connection, "plan", plan=made)
    ask("plan_sheet", priority=8, plan=made)
    return _plan(made)


@router.get("/plans/latest")
def latest_plan(production: ProductionId) -> PlanOut | None:
    """Return the newest plan, if there is one."""
    with transaction() as connection:
        row = one(connection, "latest_plan", production=production)
    return plan_out(row) if row else None


@router.post("/plans/{plan}/carry-out")
def carry_out(artist: Artist, plan: int) -> PlanOut:
    """Carry a plan out: each piece gains its alterations as one edit, already computed."""
    with transaction() as connection:
        row = _ready(connection, plan, "ready")
        edits, label = [], "Clear the outfit in a cell" if row["cell"] else "Clear the sheet"
        for made in row["edits"]:
            edit = store.change_recipe(
                connection, made["piece"], Recipe.model_validate(made["recipe"]), label, artist, made["based_on"]
            )
            sha = made["geometry"]
            textures = piece_textures(get_blob(connection, sha))
            store.store_finished(connection, edit, piece_at(sha), sha, made["thumb"], textures)
            edits.append({**made, "edit": edit})
        run(connection, "set_plan", plan=plan, state="done", edits=Jsonb(edits))
        notify(connection, "plan", plan=plan)
    return _plan(plan)


@router.post("/plans/{plan}/undo")
def undo_plan(plan: int) -> PlanOut:
    """Take a plan back, all of it in one step; refused if a piece has been changed since."""
    with transaction() as connection:
        row = _ready(connection, plan, "done")
        for made in row["edits"]:
            piece = store.get_piece(connection, made["piece"])
            if piece["edit_id"] != made["edit"]:
                raise InputError(
                    what=f"{piece['name']} has been changed since", where="the plan", todo="Undo that piece's own steps first."
                )
        for made in row["edits"]:
            store.undo(connection, made["piece"])
        run(connection, "set_plan", plan=plan, state="undone", edits=Jsonb(row["edits"]))
        notify(connection, "plan", plan=plan)
    return _plan(plan)


@router.delete("/plans/{plan}")
def drop_plan(plan: int) -> PlanOut:
    """Stop planning, or put a plan aside."""
    with transaction() as connection:
        row = _ready(connection, plan, "planning", "ready", "failed")
        run(connection, "set_plan", plan=plan, state="cancelled", edits=Jsonb(row["edits"]))
        notify(connection, "plan", plan=plan)
    return _plan(plan)


def _ready(connection: Connection, plan: int, *states: str) -> dict:
    row = one(connection, "plan", plan=plan)
    if row is None or row["state"] not in states:
        raise InputError(what=f"the plan is {row['state']}" if row else f"there is no plan {plan}", where="the plan", todo="Plan anew.")
    return row


def _plan(plan: int) -> PlanOut:
    with transaction() as connection:
        row = one(connection, "plan", plan=plan)
    assert row is not None
    return plan_out(row)


def plan_out(row: dict) -> PlanOut:
    """Return a plan as it goes over the wire."""
    return PlanOut(
        id=row["id"],
        cell=row["cell"],
        state=row["state"],
        done=row["done"],
        total=row["total"],
        lines=[PlanLineOut(**x) for x in row["lines"]],
        cells=[PlanCellOut(**c) for c in row["cells"]],
        why=row["why"],
    )
