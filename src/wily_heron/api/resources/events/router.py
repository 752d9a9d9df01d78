"""Server-sent events: what changed, as the database tells it."""

import asyncio
from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from sse_starlette.sse import EventSourceResponse

from ....studio.changes import Event, changes
from .again import Again

router = APIRouter(prefix="/api", tags=["events"])
_LISTENERS: dict[asyncio.Queue[str], int | None] = {}
"""Pages that listen, each with the production that is open in it; none where it is the one opened last."""


async def listen_for_ever() -> None:
    """Pass every change to all open event streams, and measure again what it made stale."""
    again = Again(_LISTENERS.values)
    async for change in changes():
        again.heard(change)
        for queue in list(_LISTENERS):
            queue.put_nowait(change)


@router.get("/events", response_class=EventSourceResponse, responses={200: {"model": Event, "content": {"text/event-stream": {}}}})
async def events(request: Request, production: int | None = None) -> EventSourceResponse:
    """Stream changes as server-sent events, each an `Event` as JSON. While a page listens, the sheet of its production is kept measured."""
    queue: asyncio.Queue[str] = asyncio.Queue()
    _LISTENERS[queue] = production

    async def stream() -> AsyncIterator[dict[str, str]]:
        try:
            yield {"data": Event(what="hello").message()}
            while not await request.is_disconnected():
                yield {"data": await queue.get()}
        finally:
            _LISTENERS.pop(queue, None)

    return EventSourceResponse(stream(), ping=10)
