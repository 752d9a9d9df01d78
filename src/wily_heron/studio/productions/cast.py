"""The cast: wearers come, change their shape, and go."""

from typing import Literal

from ...core.errors import InputError
from ...core.figure.base.body import shape_values
from ...store.db import transaction
from ...store.productions import wearers
from ...store.productions.bodies import body_for
from ...store.productions.wearers import WearerRow
from ..desk import Desk
from ..keeping import keep_before


def add(desk: Desk, name: str, shape: dict[str, float], body: str | None) -> WearerRow:
    """Add a wearer. Raises `InputError` for a name that is taken, or a shape the body does not have."""
    shape_values(body_for(body, shape), shape)
    with transaction() as connection:
        if any(w.name == name for w in wearers.cast_of(connection, desk.production)):
            raise InputError(what=f"there is already a wearer called {name}", where="the cast", todo="Choose another name.")
        return wearers.get_wearer(connection, wearers.add_wearer(connection, desk.production, name, shape, desk.artist, body))


def drop(desk: Desk, wearer: int) -> None:
    """Take a wearer out of the cast; a body of one's own stays in stock, pieces stay where they are."""
    with transaction() as connection:
        who = wearers.get_wearer(connection, wearer)
        keep_before(connection, who.production, f"taking {who.name} out of the cast", desk.artist)
        wearers.drop_wearer(connection, wearer)


def set_shape(desk: Desk, wearer: int, shape: dict[str, float]) -> WearerRow:
    """Keep new shape settings for a wearer; they can be undone. Raises `InputError` for a shape the body does not have."""
    with transaction() as connection:
        body = wearers.get_wearer(connection, wearer).body
    shape_values(body_for(body, shape), shape)
    with transaction() as connection:
        wearers.set_shape(connection, wearer, shape, desk.artist)
        return wearers.get_wearer(connection, wearer)


def step(wearer: int, way: Literal["undo", "redo"]) -> WearerRow:
    """Go back to the wearer's shape before, or forward to the one after. Raises `InputError` at either end."""
    with transaction() as connection:
        wearers.step(connection, wearer, way)
        return wearers.get_wearer(connection, wearer)
