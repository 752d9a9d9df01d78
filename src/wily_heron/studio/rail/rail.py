"""The rail: pieces come, change, change places, and go; every change is an edit that can be undone."""

from collections.abc import Sequence
from pathlib import Path
from typing import Literal

from ...core.bench.recipe import Recipe, check_order
from ...core.errors import InputError
from ...core.model.model import Model
from ...core.model.steps.receive import Receive
from ...formats.piece_read import read_model_file
from ...shipped import practice_coat
from ...store.blobs.models import put_model
from ...store.db import transaction
from ...store.rail import pieces as store
from ...store.rail.pieces import PieceRow
from .. import dressings, work
from ..desk import Desk
from ..keeping import keep_before
from ..wearer import one_of_the_cast


def bring_in(desk: Desk, model: Model, file_name: str, wearer: int | None = None) -> PieceRow:
    """Put a received model on the rail of a wearer, the first of the cast if none is named, as its outermost piece.

    Raises `NotFound` if there is no such wearer.
    """
    name = Path(file_name).stem.replace("-", " ").replace("_", " ").strip().capitalize() or "Piece"
    with transaction() as connection:
        who = one_of_the_cast(connection, desk.production, wearer)
        recipe = Recipe(body=(who.body or "") if who else "", made_on=who.shape if who else {}, steps=(Receive(),))
        keep_before(connection, desk.production, f"bringing in {name}", desk.artist)
        sha = put_model(connection, model)
        piece, _ = store.add_piece(connection, desk.production, name, "top", file_name, sha, recipe, desk.artist,
                                   who.outfit if who else None)
        made = store.get_piece(connection, piece)
    return _evaluated(desk, made)


def bring_in_several(desk: Desk, models: Sequence[tuple[str, Model]], wearer: int | None, at_once: bool) -> list[PieceRow]:
    """Put several models (file name, model) on the rail of a wearer; `at_once` a job puts them on by their categories, from the skin
    outwards. Raises `NotFound` if there is no such wearer."""
    made = [bring_in(desk, model, name, wearer) for name, model in models]
    if at_once:
        dressings.ask_for(desk, [piece.id for piece in made], "layers")
    return made


def bring_in_practice(desk: Desk, wearer: int | None = None) -> PieceRow:
    """Bring in the practice coat: centimetres, lying on its back."""
    return bring_in(desk, read_model_file(practice_coat()), practice_coat().name, wearer)


def get(piece: int) -> PieceRow:
    """Return a piece as it stands. Raises `NotFound` if there is none."""
    with transaction() as connection:
        return store.get_piece(connection, piece)


def change_recipe(desk: Desk, piece: int, recipe: Recipe, label: str, based_on: int | None) -> PieceRow:
    """Record a new recipe; a job runs it. Raises `Conflict` when someone else has changed the piece since `based_on`."""
    check_order(recipe)
    with transaction() as connection:
        store.change_recipe(connection, piece, recipe, label, desk.artist, based_on)
        made = store.get_piece(connection, piece)
    return _evaluated(desk, made)


def step(desk: Desk, piece: int, way: Literal["undo", "redo"]) -> PieceRow:
    """Go back one edit, or forward one. Raises `InputError` at either end."""
    with transaction() as connection:
        (store.undo if way == "undo" else store.redo)(connection, piece)
        made = store.get_piece(connection, piece)
    return _evaluated(desk, made)


def again(desk: Desk, piece: int) -> PieceRow:
    """Run the steps of a piece that failed once more. Raises `InputError` for one that did not."""
    with transaction() as connection:
        row = store.get_piece(connection, piece)
        if not store.wait_again(connection, piece, row.edit):
            raise InputError(what="its steps have not failed", where=row.name, todo="Nothing was changed.")
        made = store.get_piece(connection, piece)
    return _evaluated(desk, made)


def move(piece: int, outwards: bool) -> PieceRow:
    """Change places with the next piece outwards or inwards on the rail."""
    with transaction() as connection:
        store.move(connection, piece, outwards)
        return store.get_piece(connection, piece)


def rename(piece: int, name: str | None, category: str | None) -> PieceRow:
    """Give a piece another name or category; what is None stays."""
    with transaction() as connection:
        store.rename(connection, piece, name, category)
        return store.get_piece(connection, piece)


def take_off(desk: Desk, piece: int) -> None:
    """Take a piece off the rail; a working copy keeps what was done to it."""
    with transaction() as connection:
        found = store.get_piece(connection, piece)
        keep_before(connection, found.production, f"taking {found.name} off", desk.artist)
        store.drop(connection, piece)


def _evaluated(desk: Desk, piece: PieceRow) -> PieceRow:
    if piece.status == "waiting":
        desk.ask(work.evaluate(piece.edit))
    return piece
