"""Running recipes: what an edit comes to is stored, or what is wrong with it."""

import time

from ...core.bench.evaluate import Source, evaluate
from ...core.bench.recipe import Recipe
from ...core.figure.figure import figure_version
from ...core.look.portrait import piece_portrait
from ...core.model.state import Piece
from ...formats.images.png import write_png
from ...store.blobs.models import get_model, texture_addresses
from ...store.db import transaction
from ...store.productions.bodies import body_for, carrier_of
from ...store.productions.production import new_figure
from ...store.rail import pieces as store
from ...store.rail.pieces import EditRow, Problem, piece_at
from .. import failures, work
from ..work import Work

THUMB = (96, 96)
_WATCHED = 0.4
"""What takes less (seconds) is done before anyone has looked at the bench."""


def waiting_work() -> list[Work]:
    """Return what a crash left of edits. After an update that brings another figure, every piece is evaluated anew from its recipe."""
    with transaction() as connection:
        if new_figure(connection, figure_version()):
            store.evaluate_all_anew(connection)
        return [work.evaluate(edit) for edit in store.waiting_edits(connection)]


def evaluate_edit(edit: int) -> str | None:
    """Run the recipe of an edit and store the piece it makes, or what is wrong with it; return the address of what stands then.

    Safe to run twice: an edit that does not wait is left as it is.
    """
    with transaction() as connection:
        row = store.get_edit(connection, edit)
        if row is None or row.status != "waiting":
            return row.geometry if row else None
        textures = texture_addresses(connection, row.source)
        before = store.get_edit(connection, row.parent) if row.parent else None
    try:
        again = before and before.geometry and _only_finish_differs(before.recipe, row.recipe)
        piece = piece_at(before.geometry) if again and before and before.geometry else _made(row)
        picture = thumb_of(piece)
    except Exception as error:  # a piece must never be left waiting: whatever went wrong is told on its bench
        with transaction() as connection:
            store.fail(connection, row, _problem(error, edit))
        return None
    with transaction() as connection:
        if row.parent is None and piece.category:  # a piece just brought in is what it looks like
            store.rename(connection, row.piece, None, piece.category)
        store.finish(connection, row, piece, picture, textures)
        stands = store.get_edit(connection, edit)
    return stands.geometry if stands else None


def thumb_of(piece: Piece) -> bytes:
    """Return a small picture of a piece as PNG."""
    return write_png(piece_portrait(piece.mesh, THUMB))


def _made(row: EditRow) -> Piece:
    with transaction() as connection:
        model = get_model(connection, row.source)
    body = body_for(row.recipe.body, row.recipe.made_on)
    return evaluate(Source(model, row.source), row.recipe, body, carrier_of, piece_at, _Progress(row).note)


class _Progress:
    """Shows on the bench what the steps of an edit have found so far, where they take long enough to be watched."""

    def __init__(self, row: EditRow) -> None:
        self._row, self._last = row, time.monotonic()

    def note(self, so_far: Piece) -> None:
        """Store the results of a piece after a step, unless some were stored a moment ago."""
        if time.monotonic() - self._last < _WATCHED:
            return
        with transaction() as connection:
            store.note_reports(connection, self._row, so_far)
        self._last = time.monotonic()


def _problem(error: Exception, edit: int) -> Problem:
    why = failures.explain(error, "evaluation", edit=edit)
    return Problem(what=getattr(error, "what", f"the computation failed ({why})"), where=getattr(error, "where", "this step"),
                   todo=getattr(error, "todo", "Undo the last change, or change this step."))


def _only_finish_differs(one: Recipe, other: Recipe) -> bool:
    """Whether two recipes are finished differently and else the same; the same recipe is run again for another source."""
    same = one.model_copy(update={"finish": None}) == other.model_copy(update={"finish": None})
    return same and one.finish != other.finish
