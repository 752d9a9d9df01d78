"""What changed: one small message to everyone who listens, when a transaction commits."""

from collections.abc import AsyncIterator
from typing import Literal

import psycopg
from pydantic import BaseModel, ConfigDict

from .db import Connection, database_url, run

What = Literal["hello", "productions", "copies", "outfits", "settings", "piece", "cast", "poses", "shots", "trial", "plan", "hunt", "wear",
               "bake", "fall", "layout", "fabrics", "stock", "apart"]


class Event(BaseModel):
    """What changed, and the number of it where it has one; a cell of a sheet by its wearer and pose. `hello` is said to those who have just
    begun to listen."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    what: What
    piece: int | None = None
    trial: int | None = None
    plan: int | None = None
    hunt: int | None = None
    run: int | None = None
    layout: int | None = None
    apart: int | None = None
    wearer: int | None = None
    pose: str | None = None

    def message(self) -> str:
        """Return it as JSON, without what it has none of."""
        return self.model_dump_json(exclude_none=True)


def notify(connection: Connection, what: What, **of: int | str) -> None:
    """Notify every listener when the transaction commits. Raises `ValidationError` for an event that is not declared."""
    run(connection, "notify", payload=Event.model_validate({"what": what, **of}).message())


async def changes() -> AsyncIterator[str]:
    """Give every change as it is committed, an `Event` as JSON, on a connection of its own. Raises `psycopg.Error` when that breaks."""
    async with await psycopg.AsyncConnection.connect(database_url(), autocommit=True) as connection:
        await connection.execute("listen wily_heron")
        async for notice in connection.notifies():
            yield notice.payload
