"""What changed, for everyone who listens."""

import asyncio
from collections.abc import AsyncIterator

import psycopg

from ..store.events import Event
from ..store.events import changes as committed

__all__ = ["Event", "changes"]
_AGAIN = 0.5
"""Seconds until the database is asked again after a break."""


async def changes() -> AsyncIterator[str]:
    """Give every change as it is committed, an `Event` as JSON; begin again after a break."""
    while True:
        try:
            async for change in committed():
                yield change
        except (psycopg.Error, OSError):
            pass
        await asyncio.sleep(_AGAIN)
