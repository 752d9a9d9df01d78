"""Live sockets: messages in are JSON, frames out are binary, one answer to each message."""

import asyncio
from collections.abc import Callable
from typing import Protocol

from fastapi import WebSocket, WebSocketDisconnect
from pydantic import ValidationError

from ..core.errors import HeronError
from ..formats.array_frame import array_frame

MOST_DABS = 4000
"""So long a stroke may be."""


class Session(Protocol):
    """One artist at work on one piece."""

    def answer(self, message: dict) -> bytes:
        """Do what a message asks and return the frame to send back; raises `HeronError` or `ValidationError` for what cannot be done."""
        ...


async def serve(socket: WebSocket, begin: Callable[[], Session]) -> None:
    """Answer the messages of a page of our own until it goes away; what is wrong with one is told, and the next is awaited.

    `begin` opens the session; where it cannot, that is told and the socket closed.
    """
    origin = socket.headers.get("origin")
    if origin and origin.split("//")[-1] != socket.headers.get("host"):
        await socket.close(1008)
        return
    await socket.accept()
    try:
        session = await asyncio.to_thread(begin)
        await socket.send_bytes(array_frame({}, {"seq": -1, "ready": True}))
        while True:
            message = await socket.receive_json()
            try:
                await socket.send_bytes(await asyncio.to_thread(session.answer, message if isinstance(message, dict) else {}))
            except (HeronError, ValidationError, TypeError, ValueError) as error:
                await socket.send_bytes(array_frame({}, {"seq": -1, "problem": str(error)[:300]}))
    except HeronError as error:
        await socket.send_bytes(array_frame({}, {"seq": -1, "problem": str(error)}))
        await socket.close()
    except (WebSocketDisconnect, ValueError):
        return
