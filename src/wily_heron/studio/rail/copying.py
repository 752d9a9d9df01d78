"""Copies of pieces on other rails: made, and brought to what their origin has become."""

from ...core.errors import InputError
from ...store.db import transaction
from ...store.productions.outfits import get_outfit
from ...store.productions.whole import copy_pieces
from ...store.rail import origins
from ...store.rail import pieces as store
from ...store.rail.pieces import PieceRow
from .. import work
from ..desk import Desk


def copy(desk: Desk, piece: int, outfit: int) -> PieceRow:
    """Hang a copy of a piece, with its history, in an outfit; return it. Raises `NotFound` for either that is not there."""
    with transaction() as connection:
        store.get_piece(connection, piece)
        get_outfit(connection, desk.production, outfit)
        made = copy_pieces(connection, desk.production, outfit, piece=piece)[piece]
        row = store.get_piece(connection, made)
    if row.status == "waiting":
        desk.ask(work.evaluate(row.edit))
    return row


def take_over(desk: Desk, piece: int) -> PieceRow:
    """Give a copy the steps that its origin has now, as an edit that can be undone; return it. Raises `InputError` for what is no copy."""
    with transaction() as connection:
        row, origin = store.get_piece(connection, piece), origins.origin_of(connection, piece)
        if origin is None:
            raise InputError(what="it is no copy, or its origin is gone", where=row.name, todo="Nothing was changed.")
        number, edit = origin
        like = store.get_piece(connection, number)
        store.change_recipe(connection, piece, like.recipe, f"Take over {like.name}", desk.artist, row.edit, like.source)
        origins.stand_for_origin(connection, piece, edit)
        made = store.get_piece(connection, piece)
    desk.ask(work.evaluate(made.edit))
    return made
