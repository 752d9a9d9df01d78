"""Dressing: a piece that was brought in is placed, fitted over what is worn, bound, given the shapes and cleared at rest in one go."""

from collections.abc import Sequence

from ...core.bench.dressing import dressing_steps, layer_of
from ...core.bench.recipe import place_in_order
from ...core.errors import Conflict, InputError, NotFound
from ...core.model.steps.alteration import Alteration
from ...core.model.steps.bind import Bind
from ...core.model.steps.fit import Fit
from ...core.model.steps.receive import Place
from ...store.db import transaction
from ...store.productions.settings import settings_of
from ...store.rail import pieces as store
from ...store.rail.pieces import PieceRow
from .. import dressings
from ..desk import Desk
from ..work import Order
from ..worn import standing_on
from .evaluating import evaluate_edit
from .placing import placement


def ask_for(desk: Desk, piece: int) -> PieceRow:
    """Ask for the job, and return the piece. Raises `NotFound` if there is none, `InputError` for a rigid one, whose place only the artist
    knows."""
    with transaction() as connection:
        row = store.get_piece(connection, piece)
    if row.stands() and row.category == "rigid":
        raise InputError(what=f"{row.name} is rigid", where="dressing", todo="Place it, and choose the joint that carries it.")
    dressings.ask_for(desk, [piece])
    return row


def dress_all(desk: Desk, pieces: Sequence[int], order: Order) -> None:
    """Put pieces on one after the other, each over those before it, in the order given or by what each is worn over."""
    for piece in pieces if order == "given" else _by_layer(pieces):
        dress_piece(desk, piece)


def _by_layer(pieces: Sequence[int]) -> list[int]:
    """Hang pieces that came together by their categories, known once they are received; return them from the skin outwards."""
    known = [row for row in map(_received, pieces) if row is not None]
    places = sorted(row.rail for row in known)
    known.sort(key=lambda row: layer_of(row.category))
    with transaction() as connection:
        for row, rail in zip(known, places, strict=True):
            store.set_rail(connection, row.id, rail)
    return [row.id for row in known]


def _received(piece: int) -> PieceRow | None:
    """Return a piece once it has been received, be it in vain; None where it has been taken off."""
    try:
        _standing(piece)
        with transaction() as connection:
            return store.get_piece(connection, piece)
    except NotFound:
        return None


def dress_piece(desk: Desk, piece: int) -> None:
    """Put a piece on, and note that it is done; what stops half way is begun again. See `_dressed`."""
    _dressed(desk, piece)
    dressings.ended(piece)


def _dressed(desk: Desk, piece: int) -> None:
    """Put a piece on: where it has no place yet it is laid where its category is worn, and then all other steps are one edit.

    What the artist changes meanwhile stands: the job then ends. So does one whose piece is taken off, is rigid or bound already, or cannot
    be received.
    """
    try:
        row = _standing(piece)
        if row is None or row.category == "rigid" or any(isinstance(s, Bind) for s in row.recipe.steps):
            return
        if not any(isinstance(s, Place) for s in row.recipe.steps):
            row = _placed(desk, row)
        if row is not None:
            _edited(desk, row, _worn(row), "Dress")
    except (NotFound, Conflict):
        return


def _standing(piece: int) -> PieceRow | None:
    """Return a piece once its steps are done, or None where they cannot be."""
    with transaction() as connection:
        row = store.get_piece(connection, piece)
    evaluate_edit(row.edit)  # does nothing unless it waits
    with transaction() as connection:
        row = store.get_piece(connection, piece)
    return row if row.stands() else None


def _placed(desk: Desk, row: PieceRow) -> PieceRow | None:
    """Return the piece where its category is worn; one that stands there already is left as it is."""
    place, _ = placement(row.id, "propose", None, "")
    if place == Place():
        return row
    kept = [s for s in row.recipe.steps if place_in_order(s.kind) < place_in_order("place")]
    return _edited(desk, row, (*kept, place), "Lay it where it is worn")


def _worn(row: PieceRow) -> tuple[Alteration, ...]:
    """Return the steps of a placed piece, put on over the pieces under it on its rail.

    That is the rail of its own production, whatever is open where the press came from.
    """
    with transaction() as connection:
        rail = standing_on(store.pieces_of(connection, row.production), row)
        ease = settings_of(connection, row.production).ease.get(row.category, Fit().ease)
    over = tuple(p.geometry for p in rail if p.rail < row.rail and p.geometry)
    kept = [s for s in row.recipe.steps if place_in_order(s.kind) < place_in_order("fit")]
    return (*kept, *dressing_steps(ease, over, row.recipe.made_on))


def _edited(desk: Desk, row: PieceRow, steps: tuple[Alteration, ...], label: str) -> PieceRow | None:
    """Keep the steps as one edit on what the row says stands, run it, and return the piece if it stands then."""
    recipe = row.recipe.model_copy(update={"steps": steps})
    with transaction() as connection:
        store.change_recipe(connection, row.id, recipe, label, desk.artist, row.edit)
    return _standing(row.id)
