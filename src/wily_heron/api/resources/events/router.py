"""Server-sent events: what changed, as the database tells it."""

import asyncio
from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from sse_starlette.sse import EventSourceResponse

from ....studio.changes import Event, changes

router = APIRouter(prefix="/api", tags=["events"])
_LISTENERS: set[asyncio.Queue[str]] = set()


async def listen_for_ever() -> None:
    """Pass every change to all open event streams."""
    async for change in changes():
        for queue in list(_LISTENERS):
            queue.put_nowait(change)


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
