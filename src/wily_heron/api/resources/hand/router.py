"""The hand tools over a live socket: the server strokes the piece, the browser draws what comes back."""

from fastapi import APIRouter, WebSocket

from ...live import serve
from ..cells.schemas import CellIn
from .session import HandSession

router = APIRouter(prefix="/api", tags=["work"])


@router.websocket("/pieces/{piece}/hand")
async def hand(socket: WebSocket, piece: int, cell: str | None = None) -> None:
    """Messages in are JSON (`do`: begin, dab, end, cancel, lattice), frames out are binary: the rows that moved and where they are.

    With `cell` (JSON) the hand works on the piece in that pose; what comes back is at rest all the same.
    """
    at = None if cell is None else CellIn.model_validate_json(cell)
    await serve(socket, lambda: HandSession(piece, at))
