"""What requests have in common: the production they are about, and the artist who makes them."""

from typing import Annotated

from fastapi import Depends, Header

from ..core.errors import NotFound
from ..store.db import Connection, one, transaction


def the_production(connection: Connection) -> dict:
    """Return the production's row. Raises `NotFound` if there is none yet."""
    row = one(connection, "production")
    if row is None:
        raise NotFound(what="there is no production yet", where="the studio", todo="Start with the demo: ./heron start --reset-demo.")
    return row


def _production_id() -> int:
    with transaction() as connection:
        return the_production(connection)["id"]


def _artist(x_artist: Annotated[str, Header(alias="X-Artist", max_length=60)] = "Artist") -> str:
    return x_artist


ProductionId = Annotated[int, Depends(_production_id)]
"""The number of the production that a request is about. A route that takes it is answered by 404 where there is none."""
Artist = Annotated[str, Depends(_artist)]
"""The name under which a change is kept: the request's header X-Artist."""
