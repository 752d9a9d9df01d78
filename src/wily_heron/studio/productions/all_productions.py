"""The productions of the studio: listed, begun, named, opened, duplicated, put into the bin."""

from ...core.model.free_name import free_name
from ...store.db import transaction
from ...store.productions import all_productions as store
from ...store.productions.all_productions import BriefRow
from ...store.productions.production import get_production, put_on_axis
from ...store.productions.wearers import add_wearer
from ...store.productions.whole import put_whole, whole, work_left
from .. import work
from ..names import given_name
from ..work import Ask

_POSES = ("stand", "reach-up", "stride", "sit", "kneel")
"""The axis of a new production: the poses in which most garments are tried first."""


def productions() -> list[BriefRow]:
    """Return every production, the one opened last first; those in the bin too."""
    with transaction() as connection:
        return store.productions(connection)


def begin(name: str, artist: str) -> int:
    """Begin a production with one wearer of mean measures and five poses; return it."""
    with transaction() as connection:
        production = store.add_production(connection, given_name(name, "the production"))
        add_wearer(connection, production, "First wearer", {}, artist)
        for pose in _POSES:
            put_on_axis(connection, production, pose)
    return production


def rename(production: int, name: str) -> None:
    """Give a production another name. Raises `NotFound` if there is none."""
    with transaction() as connection:
        store.rename(connection, production, given_name(name, "the production"))


def opened(production: int) -> None:
    """Note that somebody opens a production. Raises `NotFound` if there is none, or it lies in the bin."""
    with transaction() as connection:
        store.opened(connection, production)


def put_in_bin(production: int, there: bool = True) -> None:
    """Put a production into the bin, or take it out. Raises `NotFound` where there is nothing to do that with."""
    with transaction() as connection:
        store.put_in_bin(connection, production, there)


def empty_bin() -> list[int]:
    """Delete what lies in the bin, for good; return it."""
    with transaction() as connection:
        return store.empty_bin(connection)


def duplicate(production: int, ask: Ask) -> int:
    """Make a copy of a production with all its history, beside it; return that. Raises `NotFound` if there is none."""
    with transaction() as connection:
        name = free_name((p.name for p in store.productions(connection)), get_production(connection, production).name)
        copy = put_whole(connection, whole(connection, production), name, from_elsewhere=False)
        waiting = work_left(connection, copy, anew=False)
    for edit in waiting:
        ask(work.evaluate(edit))
    return copy
