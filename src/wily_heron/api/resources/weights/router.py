"""The weight brush over a live socket."""

from fastapi import APIRouter, WebSocket

from ...live import serve
from .session import WeightSession

router = APIRouter(prefix="/api", tags=["bind"])


@router.websocket("/pieces/{piece}/weights")
async def weights(socket: WebSocket, piece: int) -> None:
    """Messages in are JSON (`do`: begin, dab, end, cancel), frames out are binary: the rows whose weights changed, and those weights."""
    await serve(socket, lambda: WeightSession(piece))
