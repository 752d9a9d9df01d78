"""Plans of the sheet: asked for, carried out, taken back, put aside."""

from ...core.errors import InputError
from ...store.blobs.arrays import piece_textures
from ...store.db import get_blob, transaction
from ...store.rail import pieces
from ...store.rail.pieces import piece_at
from ...store.sheet import plans as store
from ...store.sheet.plans import PlanEdit, PlannedFor, PlanRow
from .. import work
from ..desk import Desk
from ..keeping import keep_before
from ..work import Work


def begin(desk: Desk, cell: PlannedFor | None) -> PlanRow:
    """Plan what clears the sheet, or the outfit in one cell of it, as a job: nothing is changed until the plan is carried out."""
    with transaction() as connection:
        plan = store.add_plan(connection, desk.production, cell)
        made = store.plan_in(connection, plan, "planning")
    desk.ask(work.plan(plan))
    return made


def latest(production: int) -> PlanRow | None:
    """Return the newest plan, if there is one."""
    with transaction() as connection:
        return store.latest_plan(connection, production)


def carry_out(desk: Desk, plan: int) -> PlanRow:
    """Carry a plan out: each piece gains its alterations as one edit, already computed. Raises `Conflict` where one has been changed."""
    with transaction() as connection:
        row = store.plan_in(connection, plan, "ready")
        label = "Clear the outfit in a cell" if row.cell else "Clear the sheet"
        keep_before(connection, row.production, "a plan", desk.artist)
        edits: list[PlanEdit] = []
        for made in row.edits:
            edit = pieces.change_recipe(connection, made.piece, made.recipe, label, desk.artist, made.based_on)
            textures = piece_textures(get_blob(connection, made.geometry))
            pieces.store_finished(connection, edit, made.recipe, piece_at(made.geometry), made.geometry, made.thumb, textures)
            edits.append(made.model_copy(update={"edit": edit}))
        store.set_plan(connection, row, "done", edits)
        return store.plan_in(connection, plan, "done")


def undo(plan: int) -> PlanRow:
    """Take a plan back, all of it in one step. Raises `InputError` if a piece has been changed since."""
    with transaction() as connection:
        row = store.plan_in(connection, plan, "done")
        for made in row.edits:
            piece = pieces.get_piece(connection, made.piece)
            if piece.edit != made.edit:
                raise InputError(what=f"{piece.name} has been changed since", where="the plan",
                                 todo="Undo that piece's own steps first.")
        for made in row.edits:
            pieces.undo(connection, made.piece)
        store.set_plan(connection, row, "undone")
        return store.plan_in(connection, plan, "undone")


def drop(plan: int) -> PlanRow:
    """Stop planning, or put a plan aside."""
    with transaction() as connection:
        store.set_plan(connection, store.plan_in(connection, plan, "planning", "ready", "failed"), "cancelled")
        return store.plan_in(connection, plan, "cancelled")


def waiting_work() -> list[Work]:
    """Return what a crash left of plans."""
    with transaction() as connection:
        return [work.plan(plan) for plan in store.open_plans(connection)]
