"""Motions as the stage plays them: the shipped ones, and those in stock; which of them stand on the trial sheet."""

from fastapi import APIRouter, Response

from ....formats.array_frame import array_frame
from ....studio.productions import poses
from ...deps import ProductionId
from ...wire import BINARY, frame
from ..production.schemas import MotionOut
from .schemas import SheetMotionIn

router = APIRouter(prefix="/api/motions", tags=["motions"])


@router.get("")
def motions() -> list[MotionOut]:
    """Return the motions with their lengths; those of the stock last."""
    return [MotionOut.of(line) for line in poses.motions()]


@router.put("/sheet")
def on_sheet(production: ProductionId, request: SheetMotionIn) -> list[MotionOut]:
    """Put a motion on the trial sheet, where it stands for its worst frame, or take it off; return those that stand there."""
    return [MotionOut.of(line) for line in poses.put_on_sheet(production, request.motion, request.there)]


@router.get("/{name}", response_class=Response, responses=BINARY)
def motion(name: str) -> Response:
    """Return a motion as one frame: `rotations` (frames, joints, 4) as quaternions x, y, z, w."""
    clip = poses.motion_named(name)
    notes = {"name": clip.name, "joints": list(clip.names), "seconds_per_frame": clip.seconds}
    return frame(array_frame({"rotations": clip.rotations.astype("<f4")}, notes), {"Cache-Control": "no-cache"})
