"""The drape step: bakes, whole falls, and a live socket on which a piece falls frame by frame."""

from fastapi import APIRouter, Response, WebSocket

from ....formats.array_frame import array_frame
from ....studio.rail import baking, drapes
from ...deps import AtDesk
from ...live import serve
from ...wire import BINARY, frame
from .schemas import BakeIn, BakeOut, FallOut
from .session import DrapeSession

router = APIRouter(prefix="/api", tags=["drape"])


@router.post("/pieces/{piece}/bake", status_code=202)
def bake(desk: AtDesk, piece: int, request: BakeIn) -> BakeOut:
    """Let a piece fall in each of some poses, as a job: every pose that is done is kept as a corrective and one edit."""
    return BakeOut.of(baking.begin(desk, piece, request.step, request.poses))


@router.get("/pieces/{piece}/bake")
def latest_bake(piece: int) -> BakeOut | None:
    """Return the newest bake of a piece, if there is one."""
    found = baking.latest(piece)
    return BakeOut.of(found) if found else None


@router.post("/pieces/{piece}/bake/stop")
def stop_baking(piece: int) -> BakeOut:
    """Stop the bake that is under way; the poses that are done stay kept."""
    return BakeOut.of(baking.stop(piece))


@router.get("/pieces/{piece}/falls")
def falls(piece: int) -> list[FallOut]:
    """Return the whole falls that are kept of a piece, newest first."""
    now, found = drapes.falls_of(piece)
    return [FallOut(id=f.id, label=f.label, frames=f.frames, bytes=f.bytes, author=f.author, stale=f.geometry != now.geometry)
            for f in found]


@router.get("/falls/{fall}", response_class=Response, responses=BINARY)
def kept_fall(fall: int) -> Response:
    """Return a kept fall as one frame: `rest:` and `moves:` (of so many metres a `step`) of each piece's points, and what was told of each
    of its `frames`."""
    return frame(array_frame(*drapes.fall_frames(fall)))


@router.delete("/falls/{fall}", status_code=204)
def drop_fall(fall: int) -> None:
    """Drop a kept fall."""
    drapes.drop_fall(fall)


@router.websocket("/pieces/{piece}/drape")
async def drape(socket: WebSocket, piece: int) -> None:
    """Messages in are JSON (`do`: begin with a `step`, next, show a `frame`, grab a `vertex` `to` a place, let_go, keep a `frame` or, with
    keep_all, every one under a `label`, file: all that was played as .usdc). Frames out hold the piece's points at rest, its strain, the
    wearer's rotations in that frame and its shape while that changes, what the cloth came to, the points of each piece that falls along
    (`points:` and its address), and where `contact` is asked for how far each vertex lies off what it falls on (metres)."""
    await serve(socket, lambda: DrapeSession(piece))
