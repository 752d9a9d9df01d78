"""Plans that clear the sheet: what they propose, how far they are, and what they have come to."""

from collections.abc import Sequence
from typing import Any, Literal

from psycopg.types.json import Jsonb

from ...core.bench.recipe import Recipe
from ...core.errors import InputError
from ..db import Connection, Row, changed, existing, number, numbers, one, row, run
from ..events import notify

State = Literal["planning", "ready", "done", "undone", "cancelled", "failed"]


class PlannedFor(Row):
    """The one cell a plan is for: all pieces on a wearer in a pose."""

    wearer: int
    pose: str


class PlanLine(Row):
    """One alteration of a plan: on which piece, what, in how many cells, what shows there before and after (cm2)."""

    piece: int
    piece_name: str
    words: str
    cells: int
    before_cm2: float
    after_cm2: float
    greatest_move_mm: float = 0.0


class PlanCell(Row):
    """What a plan does to one cell of the sheet (cm2, mm); `why` it does not hold then, if it does not."""

    wearer: int
    pose: str
    before_cm2: float
    after_cm2: float
    clearance_mm: float
    why: str = ""


class PlanEdit(Row):
    """What a plan makes of a piece: its recipe, made on its edit `based_on`, and the addresses of what comes of it.

    `edit` is the one that carrying it out has made.
    """

    piece: int
    recipe: Recipe
    based_on: int
    geometry: str
    thumb: str
    edit: int | None = None


class PlanRow(Row):
    """A plan that clears the sheet, or one cell of it."""

    id: int
    production: int
    cell: PlannedFor | None
    state: State
    done: int
    total: int
    lines: list[PlanLine]
    cells: list[PlanCell]
    edits: list[PlanEdit]
    why: str


def add_plan(connection: Connection, production: int, cell: PlannedFor | None) -> int:
    """Begin a plan in the place of one that is being made; return it."""
    before = latest_plan(connection, production)
    if before and before.state == "planning":
        set_plan(connection, before, "cancelled")
    made = number(connection, "add_plan", production=production, cell=Jsonb(cell.model_dump()) if cell else None)
    notify(connection, "plan", plan=made)
    return made


def get_plan(connection: Connection, plan: int) -> PlanRow | None:
    """Return a plan."""
    return row(connection, PlanRow, "plan", plan=plan)


def plan_in(connection: Connection, plan: int, *states: State) -> PlanRow:
    """Return a plan that is in one of some states. Raises `NotFound` if there is none, `InputError` where it is in another."""
    found = existing(get_plan(connection, plan), what=f"there is no plan {plan}", where="the plan", todo="Plan anew.")
    if found.state not in states:
        raise InputError(what=f"the plan is {found.state}", where="the plan", todo="Plan anew.")
    return found


def latest_plan(connection: Connection, production: int) -> PlanRow | None:
    """Return the newest plan of a production."""
    return row(connection, PlanRow, "latest_plan", production=production)


def open_plans(connection: Connection) -> list[int]:
    """Return the plans that are being made."""
    return numbers(connection, "open_plans")


def go_on(connection: Connection, plan: int, done: int, total: int) -> bool:
    """Note how far a plan is; return whether it is to go on."""
    going = changed(connection, "plan_progress", plan=plan, done=done, total=total)
    notify(connection, "plan", plan=plan)
    return going


def finish_plan(connection: Connection, plan: int, state: Literal["ready", "failed"], lines: Sequence[PlanLine] = (),
                cells: Sequence[PlanCell] = (), edits: Sequence[PlanEdit] = (), why: str = "") -> None:
    """Store what a plan proposes, if it has not been stopped meanwhile, and forget what it came to on the way."""
    run(connection, "finish_plan", plan=plan, state=state, lines=_json(lines), cells=_json(cells), edits=_json(edits), why=why)
    forget_work(connection, plan)
    notify(connection, "plan", plan=plan)


def reopen_plan(connection: Connection, plan: int) -> None:
    """Let a plan that failed be made once more."""
    run(connection, "reopen_plan", plan=plan)
    notify(connection, "plan", plan=plan)


def set_plan(connection: Connection, plan: PlanRow, state: State, edits: Sequence[PlanEdit] | None = None) -> None:
    """Note that a plan is carried out, taken back or put aside."""
    run(connection, "set_plan", plan=plan.id, state=state, edits=_json(plan.edits if edits is None else edits))
    notify(connection, "plan", plan=plan.id)


def known_work(connection: Connection, plan: int, key: str) -> dict[str, Any] | None:
    """Return what a plan has come to under `key`, or what a sheet has measured under it."""
    found = one(connection, "plan_known", plan=plan, key=key)
    return found["value"] if found else None


def keep_work(connection: Connection, plan: int, key: str, value: dict[str, Any]) -> None:
    """Keep what a plan has come to under `key`, until it has ended."""
    run(connection, "keep_plan_work", plan=plan, key=key, value=Jsonb(value))


def forget_work(connection: Connection, plan: int) -> None:
    """Forget what a plan has come to on the way."""
    run(connection, "drop_plan_work", plan=plan)


def _json(rows: Sequence[Row]) -> Jsonb:
    return Jsonb([each.model_dump(mode="json") for each in rows])
