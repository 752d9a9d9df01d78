"""Wearing the outfit on other wearers: each piece looked at on each, mended where it shows through, brought over to other bodies."""

from collections.abc import Sequence
from dataclasses import dataclass

from ...core.bench.recipe import Recipe
from ...core.clear.wear_on import wear_on
from ...core.errors import InputError
from ...core.figure.base.body import shape_values
from ...core.model.model import Model
from ...core.model.steps.alteration import Cell
from ...core.model.steps.bind import Bind
from ...core.model.steps.clear import Clear
from ...core.model.steps.fit import Fit
from ...core.model.steps.follow import Follow
from ...core.model.steps.receive import MadeFor, Receive
from ...store.blobs.models import put_model
from ...store.db import Connection, transaction
from ...store.productions.bodies import body_for
from ...store.productions.wearers import CastRow, WearerRow, cast_of, get_wearer
from ...store.rail import pieces as store
from ...store.rail import wear as runs
from ...store.rail.pieces import PieceRow, piece_at
from ...store.rail.wear import RunRow, WaitingRow, WornRow
from .. import failures, work
from ..desk import Desk
from ..work import Work
from ..worn import hangs_for, textures_of
from .evaluating import evaluate_edit

_EASE = 0.004
Run = tuple[RunRow, list[WornRow]]


@dataclass(frozen=True)
class _Came:
    """What one piece came to on one wearer: done, mended, or needs the artist; the share of it under the skin before and after."""

    state: str
    why: str
    before: float | None = None
    after: float | None = None


def begin(desk: Desk, wearers: Sequence[int] | None) -> Run:
    """Look at every piece of what each of these wearers has on, or each of the cast, as jobs; a row says done, mended, or needs you."""
    with transaction() as connection:
        cast = [w for w in cast_of(connection, desk.production) if wearers is None or w.id in wearers]
        rail = [p for p in store.rail_of(connection, desk.production) if p.status == "done" and p.geometry]
        if not cast or not rail:
            raise InputError(what="there is no one to wear it" if rail else "nothing stands on the rail", where="wearing on",
                             todo="Add a wearer to the cast." if rail else "Bring in a piece first.")
        pairs = [(p.id, w.id) for w in cast for p in rail if p.outfit == w.outfit]
        if not pairs:
            raise InputError(what="nothing stands in what they have on", where="wearing on", todo="Bring in a piece first.")
        made = runs.begin_run(connection, desk.production, pairs)
    for piece, wearer in pairs:
        desk.ask(work.wear(made, piece, wearer, desk.artist))
    return run(made)


def run(run_id: int) -> Run:
    """Return a run and its rows. Raises `NotFound` if there is none."""
    with transaction() as connection:
        return runs.get_run(connection, run_id), runs.rows_of(connection, run_id)


def latest(production: int) -> Run | None:
    """Return the newest run, if there is one."""
    with transaction() as connection:
        found = runs.latest_run(connection, production)
        return (found, runs.rows_of(connection, found.id)) if found else None


def stop(run_id: int) -> Run:
    """Stop a run; what is done stays."""
    with transaction() as connection:
        runs.cancel_run(connection, run_id)
    return run(run_id)


def waiting_work() -> list[Work]:
    """Return what a crash left of runs."""
    with transaction() as connection:
        return [work.wear(row.run, row.piece, row.wearer, "Artist") for row in runs.waiting_rows(connection)]


def wear_piece(row: WaitingRow, author: str) -> None:
    """Look at one piece on one wearer: it holds, is mended with a corrective for that shape, or needs the artist. Safe to run twice."""
    with transaction() as connection:
        found = runs.find_run(connection, row.run)
    if found is None or found.state != "running":
        return
    try:
        came = _worn(row, author)
    except Exception as error:  # a row must never wait for ever
        came = _Came("needs", failures.explain(error, "wearing", piece=row.piece, wearer=row.wearer))
    with transaction() as connection:
        runs.end_row(connection, row, came.state, came.before, came.after, came.why)


def put_over(connection: Connection, piece: PieceRow, wearer: CastRow, author: str) -> tuple[int, int]:
    """Add a piece as it stands on another wearer's body; return the new piece and its first edit.

    Raises `InputError` for one that does not stand.
    """
    if not piece.stands() or piece.geometry is None:
        raise InputError(what="its last step has not finished", where=piece.name, todo="Wait for its steps, or undo the failing one.")
    mesh, held = piece_at(piece.geometry).mesh, tuple(textures_of(piece.geometry))
    sha = put_model(connection, Model(mesh, textures=held))
    return store.add_piece(connection, piece.production, piece.name, piece.category, piece.file_name, sha, _over_recipe(piece, wearer),
                           author, wearer.outfit)


def _over_recipe(piece: PieceRow, wearer: CastRow) -> Recipe:
    """Return the recipe by which a piece as it stands rides over to another wearer's body, is fitted, bound and follows there."""
    recipe = piece.recipe
    fit = next((s for s in recipe.steps if isinstance(s, Fit)), Fit())
    bind = next((s for s in recipe.steps if isinstance(s, Bind)), Bind())
    source = MadeFor(name=f"the body of {piece.name}", body=recipe.body, shape=recipe.made_on)
    come = Receive(unit="m", up="y", hand="right", facing="front", mends=(), made_for=source)
    taken = bind if bind.source == "joint" else bind.model_copy(update={"source": "body"})
    steps = (come, taken, Follow()) if bind.source == "joint" else (come, fit, taken, Follow())
    return Recipe(body=wearer.body or "", made_on=wearer.shape, steps=steps, finish=recipe.finish)


def _worn(row: WaitingRow, author: str) -> _Came:
    with transaction() as connection:
        piece, who = store.get_piece(connection, row.piece), get_wearer(connection, row.wearer)
    if not piece.stands() or piece.geometry is None:
        raise InputError(what="its last step has not finished", where=piece.name, todo="Wait for its steps, or undo the failing one.")
    if piece.body != (who.body or ""):
        return _brought_over(piece, who, author)
    body = body_for(who.body, who.shape)
    got = wear_on(piece_at(piece.geometry), body, shape_values(body, who.shape), _EASE)
    if got.state == "mended":
        step = Clear(cells=(Cell(shape=who.shape, pose="rest"),), ease=_EASE, keep="shape")
        kept = piece.recipe.model_copy(update={"steps": (*piece.recipe.steps, step)})
        with transaction() as connection:
            edit = store.change_recipe(connection, piece.id, kept, f"Mend on {who.name}", author, piece.edit)
        evaluate_edit(edit)
    return _Came(got.state, got.why, got.under_before, got.under_after)


def _brought_over(piece: PieceRow, who: WearerRow, author: str) -> _Came:
    with transaction() as connection:
        there = store.rail_of(connection, piece.production)
        if any(p.name == piece.name and hangs_for(p, who) for p in there):
            return _Came("done", "it hangs there already")
        _, edit = put_over(connection, piece, who, author)
    if evaluate_edit(edit):
        return _Came("done", "brought over to that body")
    return _Came("needs", "it did not fit there; open it on that wearer")
