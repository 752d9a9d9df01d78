"""Outfits: begun, copied, named, put on, deleted."""

from ...store.db import transaction
from ...store.productions import outfits as store
from ...store.productions.outfits import OutfitRow
from ...store.productions.wearers import get_wearer
from ...store.productions.whole import copy_pieces
from ..desk import Desk
from ..keeping import keep_before
from ..names import given_name


def outfits(production: int) -> list[OutfitRow]:
    """Return the outfits of a production in their order."""
    with transaction() as connection:
        return store.outfits_of(connection, production)


def begin(desk: Desk, name: str, like: int | None = None, wearer: int | None = None) -> int:
    """Begin an outfit, empty or with copies of all pieces of another (`like`), and change a wearer into it if one is named; return it.

    Raises `InputError` for a name that is taken, `NotFound` for an outfit or a wearer that is not there.
    """
    with transaction() as connection:
        made = store.add_outfit(connection, desk.production, given_name(name, "the outfit"))
        if like is not None:
            store.get_outfit(connection, desk.production, like)
            copy_pieces(connection, desk.production, made, outfit=like)
        if wearer is not None:
            store.put_on_outfit(connection, wearer, made)
        return made


def rename(production: int, outfit: int, name: str) -> None:
    """Give an outfit another name. Raises `NotFound` if there is none, `InputError` for a name that is taken."""
    with transaction() as connection:
        store.rename_outfit(connection, production, outfit, given_name(name, "the outfit"))


def drop(desk: Desk, outfit: int) -> None:
    """Delete an outfit with its pieces; a working copy keeps them. Raises `InputError` while somebody has it on."""
    with transaction() as connection:
        found = store.get_outfit(connection, desk.production, outfit)
        keep_before(connection, desk.production, f"deleting {found.name}", desk.artist)
        store.drop_outfit(connection, desk.production, outfit)


def put_on(wearer: int, outfit: int) -> None:
    """Change a wearer into an outfit. Raises `NotFound` for one of another production."""
    with transaction() as connection:
        get_wearer(connection, wearer)
        store.put_on_outfit(connection, wearer, outfit)
