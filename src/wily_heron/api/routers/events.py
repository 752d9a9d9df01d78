"""Server-sent events: what changed, as PostgreSQL tells it."""

import asyncio
import contextlib
from collections.abc import AsyncIterator

import psycopg
from fastapi import APIRouter, Request
from sse_starlette.sse import EventSourceResponse

from ...store.db import database_url
from ...store.events import Event

router = APIRouter(prefix="/api", tags=["events"])
_LISTENERS: set[asyncio.Queue[str]] = set()


async def listen_for_ever() -> None:
    """Hold one LISTEN connection and pass every notice to all open event streams; connect again after a break."""
    while True:
        with contextlib.suppress(psycopg.Error, OSError):
            async with await psycopg.AsyncConnection.connect(database_url(), autocommit=True) as connection:
                await connection.execute("listen wily_heron")
                async for notice in connection.notifies():
                    for queue in list(_LISTENERS):
                        queue.put_nowait(notice.payload)
        await asyncio.sleep(0.5)


@router.get("/events", response_class=EventSourceResponse, responses={200: {"model": Event, "content": {"text/event-stream": {}}}})
async def events(request: Request) -> EventSourceResponse:
    """Stream changes as server-sent events, each an `Event` as JSON."""
    queue: asyncio.Queue[str] = asyncio.Queue()
    _LISTENERS.add(queue)

    async def stream() -> AsyncIterator[dict[str, str]]:
        try:
            yield {"data": Event(what="hello").message()}
            while not await request.is_disconnected():
                yield {"data": await queue.get()}
        finally:
            _LISTENERS.discard(queue)

    return EventSourceResponse(stream(), ping=10)
