"""A live socket on which the panels of a layout are sewn on a wearer."""

from fastapi import APIRouter, WebSocket

from ...live import serve
from .session import SewingSession

router = APIRouter(tags=["table"])


@router.websocket("/api/table/layouts/{number}/sew")
async def sew(socket: WebSocket, number: int) -> None:
    """Messages in are JSON (`do`: begin on a `wearer` in a `fabric` with faces of a `size`, `over` what hangs on the rail or not; next;
    keep, `anew` on the piece that hangs there already or as another).
    Frames out hold the panels' points, with the first their triangles, the body's, what is worn under them and the sewn pairs, and how
    far the seams are open."""
    await serve(socket, lambda: SewingSession(number))
