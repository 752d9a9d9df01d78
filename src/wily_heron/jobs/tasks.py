"""What the worker does: each task loads, calls the core, stores. All are safe to run twice."""

import structlog
from procrastinate import RetryStrategy
from psycopg.types.json import Jsonb

from ..core.bench.evaluate import Source, evaluate
from ..core.bench.recipe import Recipe, place_in_order
from ..core.errors import HeronError
from ..core.look.portrait import piece_portrait
from ..core.model.steps.bind import Bind
from ..core.model.steps.fit import Fit
from ..core.model.steps.follow import Follow
from ..formats.png import write_png
from ..store.bodies import body_for, carrier_of
from ..store.db import one, run, transaction
from ..store.events import notify
from ..store.models import get_model, texture_addresses
from ..store.pieces import change_recipe, finish, piece_at
from .queue import app

log = structlog.get_logger()
_AGAIN = RetryStrategy(max_attempts=3, wait=1)


@app.task(name="evaluate_edit", retry=_AGAIN)
def evaluate_edit(edit: int) -> None:
    """Run the recipe of an edit and store the piece it makes, or what is wrong with it."""
    with transaction() as connection:
        row = one(connection, "edit", edit=edit)
        if row is None or row["status"] != "waiting":
            return
        model, textures = get_model(connection, row["source_sha"]), texture_addresses(connection, row["source_sha"])
        before = one(connection, "edit", edit=row["parent_id"]) if row["parent_id"] else None
    try:
        recipe = Recipe.model_validate(row["recipe"])
        if before and before["geometry_sha"] and _only_finish_differs(before["recipe"], row["recipe"]):
            piece = piece_at(before["geometry_sha"])
        else:
            piece = evaluate(Source(model, row["source_sha"]), recipe, body_for(recipe.body, recipe.made_on), carrier_of, piece_at)
        thumb = write_png(piece_portrait(piece.mesh, (96, 96)))
    except Exception as error:  # a piece must never be left waiting: whatever went wrong is told on its bench
        if not isinstance(error, HeronError):
            log.exception("evaluation failed", edit=edit)
        detail = {"what": getattr(error, "what", f"the computation failed ({error or type(error).__name__})"),
                  "where": getattr(error, "where", "this step"),
                  "todo": getattr(error, "todo", "Undo the last change, or change this step.")}
        with transaction() as connection:
            run(connection, "fail_edit", edit=edit, error=Jsonb(detail), report=Jsonb({}))
            notify(connection, "piece", piece=row["piece_id"])
        return
    with transaction() as connection:
        if row["parent_id"] is None and "category" in piece.report.get("receive", {}):  # a piece just brought in is what it looks like
            run(connection, "set_category", piece=row["piece_id"], category=piece.report["receive"]["category"])
        finish(connection, row["piece_id"], edit, piece, thumb, textures)
    log.info("edit evaluated", edit=edit, piece=row["piece_id"])


def _only_finish_differs(one_recipe: dict, other: dict) -> bool:
    """Whether two recipes are finished differently and else the same; the same recipe is run again for another source."""
    same = {**one_recipe, "finish": None} == {**other, "finish": None}
    return same and one_recipe.get("finish") != other.get("finish")


@app.task(name="fit_outfit", retry=_AGAIN)
def fit_outfit(body: str, ease: float, author: str) -> None:
    """Fit the pieces worn on a body from the skin outwards, each resting on those under it, one after the other."""
    with transaction() as connection:
        production = one(connection, "production")
        rows = sorted(run(connection, "pieces_of", production=production["id"]) if production else [], key=lambda r: r["rail"])
    under: list[str] = []
    for row in rows:
        recipe = Recipe.model_validate(row["recipe"])
        if recipe.body != body or row["status"] == "failed":
            continue
        kept = next((s for s in recipe.steps if isinstance(s, Fit)), Fit())
        wanted = kept.model_copy(update={"ease": ease if not under else max(ease, 0.003), "over": tuple(under)})
        steps = [s for s in recipe.steps if place_in_order(s.kind) < place_in_order("fit")]
        later = [s.model_copy(update={"over": tuple(under)}) if isinstance(s, (Bind, Follow)) else s
                 for s in recipe.steps if place_in_order(s.kind) > place_in_order("fit")]
        with transaction() as connection:
            edit = change_recipe(connection, row["id"], recipe.model_copy(update={"steps": (*steps, wanted, *later)}),
                                 "Fit the outfit", author, None)
        evaluate_edit(edit)
        with transaction() as connection:
            stands = one(connection, "edit", edit=edit)
        if stands and stands["geometry_sha"]:
            under.append(stands["geometry_sha"])
