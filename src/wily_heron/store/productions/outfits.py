"""Outfits: rails of pieces that wearers change into."""

from ...core.errors import InputError, NotFound
from ..db import Connection, Row, changed, check_later, number, rows, run
from ..events import notify


class OutfitRow(Row):
    """An outfit: how many pieces hang in it, which wearers have it on, and which own it."""

    id: int
    name: str
    pieces: int
    worn_by: list[int]
    owners: list[int]


def outfits_of(connection: Connection, production: int) -> list[OutfitRow]:
    """Return the outfits of a production in their order."""
    return rows(connection, OutfitRow, "outfits_of", production=production)


def get_outfit(connection: Connection, production: int, outfit: int) -> OutfitRow:
    """Return an outfit of a production. Raises `NotFound` if there is none."""
    found = next((o for o in outfits_of(connection, production) if o.id == outfit), None)
    if found is None:
        raise NotFound(what=f"there is no outfit {outfit}", where="the outfits", todo="Reload the room.")
    return found


def add_outfit(connection: Connection, production: int, name: str) -> int:
    """Begin an outfit with nothing in it; return it. Raises `InputError` for a name that is taken."""
    _free(connection, production, name)
    made = number(connection, "add_outfit", production=production, name=name)
    notify(connection, "outfits")
    return made


def rename_outfit(connection: Connection, production: int, outfit: int, name: str) -> None:
    """Give an outfit another name. Raises `NotFound` if there is none, `InputError` for a name that is taken."""
    if get_outfit(connection, production, outfit).name != name:
        _free(connection, production, name)
        run(connection, "rename_outfit", production=production, outfit=outfit, name=name)
    notify(connection, "outfits")


def drop_outfit(connection: Connection, production: int, outfit: int) -> None:
    """Delete an outfit with its pieces. Raises `NotFound` if there is none, `InputError` while somebody has it on."""
    found = get_outfit(connection, production, outfit)
    check_later(connection)
    if not changed(connection, "drop_outfit", production=production, outfit=outfit):
        raise InputError(what="somebody has it on", where=found.name, todo="Change its wearers into another outfit first.")
    notify(connection, "outfits")


def put_on_outfit(connection: Connection, wearer: int, outfit: int) -> None:
    """Change a wearer into an outfit, which is theirs from then on. Raises `NotFound` for one of another production."""
    if not changed(connection, "put_on_outfit", wearer=wearer, outfit=outfit):
        raise NotFound(what=f"there is no outfit {outfit} for that wearer", where="the outfits", todo="Reload the room.")
    run(connection, "own_outfit", wearer=wearer, outfit=outfit)
    notify(connection, "outfits")


def _free(connection: Connection, production: int, name: str) -> None:
    if any(o.name == name for o in outfits_of(connection, production)):
        raise InputError(what=f"there is already an outfit called {name}", where="the outfits", todo="Choose another name.")
