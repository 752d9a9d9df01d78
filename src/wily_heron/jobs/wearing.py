"""Wearing the outfit on other wearers: each piece looked at on each, mended where it shows through, brought over to other bodies."""

from typing import Any

import structlog

from ..core.bench.recipe import Recipe
from ..core.clear.wear_on import wear_on
from ..core.errors import HeronError, InputError
from ..core.figure.base.body import shape_values
from ..core.model.model import Model
from ..core.model.steps.alteration import Cell
from ..core.model.steps.bind import Bind
from ..core.model.steps.clear import Clear
from ..core.model.steps.fit import Fit
from ..core.model.steps.follow import Follow
from ..core.model.steps.receive import MadeFor, Receive
from ..formats.textures import read_texture
from ..store import pieces as store
from ..store.arrays import bytes_piece, piece_textures
from ..store.bodies import body_for
from ..store.db import Connection, get_blob, one, run, transaction
from ..store.events import notify
from ..store.models import put_model
from .queue import app
from .tasks import evaluate_edit

log = structlog.get_logger()
_EASE = 0.004


def over_recipe(row: dict[str, Any], wearer: dict[str, Any]) -> Recipe:
    """Return the recipe by which a piece as it stands rides over to another wearer's body, is fitted, bound and follows there."""
    recipe = Recipe.model_validate(row["recipe"])
    fit = next((s for s in recipe.steps if isinstance(s, Fit)), Fit())
    bind = next((s for s in recipe.steps if isinstance(s, Bind)), Bind())
    source = MadeFor(name=f"the body of {row['name']}", body=recipe.body, shape=recipe.made_on)
    come = Receive(unit="m", up="y", hand="right", facing="front", mends=(), made_for=source)
    taken = bind if bind.source == "joint" else bind.model_copy(update={"source": "body"})
    steps = (come, taken, Follow()) if bind.source == "joint" else (come, fit, taken, Follow())
    return Recipe(body=wearer["body_sha"] or "", made_on=wearer["shape"], steps=steps, finish=recipe.finish)


def put_over(connection: Connection, production: int, row: dict[str, Any], wearer: dict[str, Any], author: str) -> tuple[int, int]:
    """Add the piece of `row` as it stands on another wearer's body; return the new piece and its first edit."""
    data = get_blob(connection, row["geometry_sha"])
    held = tuple(read_texture(get_blob(connection, at), name) for name, at in piece_textures(data).items())
    sha = put_model(connection, Model(bytes_piece(data).mesh, textures=held))
    return store.add_piece(connection, production, row["name"], row["category"], row["file_name"], sha, over_recipe(row, wearer), author)


@app.task(name="wear_piece")
def wear_piece(run_id: int, piece: int, wearer: int, author: str) -> None:
    """Look at one piece on one wearer: it holds, is mended with a corrective for that shape, or needs the artist. Safe to run twice."""
    with transaction() as connection:
        state, who = one(connection, "wear_run", run=run_id), one(connection, "wearer", wearer=wearer)
    if state is None or state["state"] != "running" or who is None:
        return
    try:
        told = _worn(state["production_id"], piece, who, author)
    except Exception as error:  # a row must never wait for ever
        if not isinstance(error, HeronError):
            log.exception("wearing failed", piece=piece, wearer=wearer)
        told = {"state": "needs", "before": None, "after": None, "why": str(error)[:300]}
    with transaction() as connection:
        run(connection, "finish_wear_row", run=run_id, piece=piece, wearer=wearer, **told)
        run(connection, "close_wear_run", run=run_id)
        notify(connection, "wear", run=run_id)


def _worn(production: int, piece: int, who: dict[str, Any], author: str) -> dict[str, Any]:
    with transaction() as connection:
        row = store.get_piece(connection, piece)
        if row["status"] != "done" or not row["geometry_sha"]:
            raise InputError(what="its last step has not finished", where=row["name"], todo="Wait for its steps, or undo the failing one.")
        data = get_blob(connection, row["geometry_sha"])
    recipe = Recipe.model_validate(row["recipe"])
    if recipe.body != (who["body_sha"] or ""):
        with transaction() as connection:
            there = run(connection, "pieces_of", production=production)
            again = any(r["name"] == row["name"] and r["recipe"].get("body", "") == (who["body_sha"] or "") for r in there)
            made = None if again else put_over(connection, production, row, who, author)
        if made is None:
            return {"state": "done", "before": None, "after": None, "why": "it hangs there already"}
        evaluate_edit(made[1])
        with transaction() as connection:
            stands = one(connection, "edit", edit=made[1])
        good = bool(stands and stands["geometry_sha"])
        return {"state": "done" if good else "needs", "before": None, "after": None,
                "why": "brought over to that body" if good else "it did not fit there; open it on that wearer"}
    body = body_for(recipe.body, who["shape"])
    shape = shape_values(body, who["shape"])
    got = wear_on(bytes_piece(data), body, shape, _EASE)
    if got.state == "mended":
        step = Clear(cells=(Cell(shape=who["shape"], pose="rest"),), ease=_EASE, keep="shape")
        kept = recipe.model_copy(update={"steps": (*recipe.steps, step)})
        with transaction() as connection:
            edit = store.change_recipe(connection, piece, kept, f"Mend on {who['name']}", author, row["edit_id"])
        evaluate_edit(edit)
    return {"state": got.state, "before": got.under_before, "after": got.under_after, "why": got.why}
