"""Working copies of a production: named, looked at, gone back to; a piece is taken out of one."""

from collections.abc import Sequence
from dataclasses import dataclass

from ...core.errors import NotFound
from ...core.figure.figure import figure_version
from ...core.model.free_name import free_name
from ...store.db import Connection, transaction
from ...store.productions import copies as store
from ...store.productions.copies import CopyLine, CopyRow, PieceThen, WearerThen
from ...store.productions.outfits import add_outfit, get_outfit, outfits_of
from ...store.productions.whole import work_left
from ...store.rail.pieces import PieceRow, get_piece, pieces_of
from .. import work
from ..desk import Desk
from ..keeping import keep_before
from ..names import given_name


@dataclass(frozen=True)
class CopyLook:
    """What stood in a working copy, and what has become of each since; pieces that have come since, by name."""

    copy: CopyLine
    pieces: list[PieceThen]
    wearers: list[WearerThen]
    come_since: list[str]


def copies(production: int) -> list[CopyLine]:
    """Return the working copies of a production, newest first."""
    with transaction() as connection:
        return store.copies_of(connection, production)


def keep(desk: Desk, name: str) -> list[CopyLine]:
    """Keep the production as it stands under a name; return all copies. Raises `InputError` without a name."""
    told = given_name(name, "the working copy")
    with transaction() as connection:
        store.keep_copy(connection, desk.production, told, desk.artist, figure_version(), automatic=False)
        return store.copies_of(connection, desk.production)


def look(production: int, copy: int) -> CopyLook:
    """Return what stood in a working copy. Raises `NotFound` if there is none."""
    with transaction() as connection:
        kept = store.get_copy(connection, production, copy)
        pieces = store.pieces_then(connection, production, kept)
        known = {p.id for p in pieces}
        come = [p.name for p in pieces_of(connection, production) if p.id not in known]
        return CopyLook(kept, pieces, store.wearers_then(connection, production, kept), come)


def go_back(desk: Desk, copy: int) -> None:
    """Put the production back to how it stood in a working copy; how it stands now is kept as one first."""
    with transaction() as connection:
        kept = store.get_copy(connection, desk.production, copy)
        keep_before(connection, desk.production, f"going back to {kept.name}", desk.artist)
        store.go_back(connection, desk.production, kept)
        waiting = _left(connection, desk, kept)
    _ask(desk, waiting)


def take_piece(desk: Desk, copy: int, piece: int, outfit: int | None = None) -> PieceRow:
    """Hang a piece of a working copy in an outfit, the first if none is named, beside what hangs there; return it.

    Raises `NotFound` if the copy holds no such piece.
    """
    with transaction() as connection:
        kept = store.get_copy(connection, desk.production, copy)
        name = next((p.name for p in store.pieces_then(connection, desk.production, kept) if p.id == piece), "")
        free = free_name((p.name for p in pieces_of(connection, desk.production)), name)
        there = outfits_of(connection, desk.production)[0] if outfit is None else get_outfit(connection, desk.production, outfit)
        made = store.take_piece(connection, desk.production, kept, piece, free, there.id)
        waiting = _left(connection, desk, kept)
        row = get_piece(connection, made)
    _ask(desk, waiting)
    return row


def take_outfit(desk: Desk, copy: int, outfit: int) -> int:
    """Begin an outfit with all pieces that one of a working copy had; return it. Raises `NotFound` if the copy holds no such outfit."""
    with transaction() as connection:
        kept = store.get_copy(connection, desk.production, copy)
        then = next((p.outfit_name for p in store.pieces_then(connection, desk.production, kept) if p.outfit == outfit), "Outfit")
        name = free_name((o.name for o in outfits_of(connection, desk.production)), then)
        made = add_outfit(connection, desk.production, name)
        store.take_outfit(connection, desk.production, kept, outfit, made)
        waiting = _left(connection, desk, kept)
    _ask(desk, waiting)
    return made


def drop(production: int, copy: int) -> None:
    """Delete a working copy. Raises `NotFound` if there is none."""
    with transaction() as connection:
        if not store.drop_copy(connection, production, copy):
            raise NotFound(what=f"there is no working copy {copy}", where="the working copies", todo="Open the list again.")


def _left(connection: Connection, desk: Desk, kept: CopyRow) -> list[int]:
    return work_left(connection, desk.production, anew=kept.figure != figure_version())


def _ask(desk: Desk, waiting: Sequence[int]) -> None:
    for edit in waiting:
        desk.ask(work.evaluate(edit))

