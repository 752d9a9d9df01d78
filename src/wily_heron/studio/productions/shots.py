"""The production's shots: kept, changed, dropped and taken back."""

from collections.abc import Sequence

from ...core.clearance.find.shots import Shot
from ...core.errors import InputError
from ...store.db import Connection, transaction
from ...store.productions import shots as store
from ...store.productions.shots import ShotRow
from ...store.productions.wearers import cast_of
from ..desk import Desk


def shots(production: int) -> list[ShotRow]:
    """Return the shots, oldest first."""
    with transaction() as connection:
        return store.shots_of(connection, production)


def keep(desk: Desk, new: Sequence[Shot], wearer: int | None = None, pose: str | None = None) -> list[ShotRow]:
    """Keep shots for every cell, or for those of a wearer or a pose; return all there are."""
    with transaction() as connection:
        _check(connection, desk.production, wearer)
        store.keep_shots(connection, desk.production, new, wearer, pose, desk.artist)
        return store.shots_of(connection, desk.production)


def change(production: int, shot: int, to: Shot, wearer: int | None, pose: str | None) -> list[ShotRow]:
    """Change a shot: its name, its camera, the cells it shows; return all there are."""
    with transaction() as connection:
        _check(connection, production, wearer)
        store.change_shot(connection, production, shot, to, wearer, pose)
        return store.shots_of(connection, production)


def drop(production: int, shot: int, dropped: bool = True) -> list[ShotRow]:
    """Drop a shot, or take it back; return all there are."""
    with transaction() as connection:
        store.drop_shot(connection, production, shot, dropped)
        return store.shots_of(connection, production)


def _check(connection: Connection, production: int, wearer: int | None) -> None:
    if wearer is not None and wearer not in {w.id for w in cast_of(connection, production)}:
        raise InputError(what="that wearer is not of the cast", where="the shot", todo="Choose one of the cast.")
