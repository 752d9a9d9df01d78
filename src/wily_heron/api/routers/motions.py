"""The shipped motions, as the stage plays them."""

from functools import lru_cache

from fastapi import APIRouter, Response

from ...core.figure.clips import CLIPS, clip_named
from ...core.figure.figure import figure
from ...store.arrays import array_frame
from ..schemas_poses import MotionOut

router = APIRouter(prefix="/api/motions", tags=["motions"])


@router.get("")
def motions() -> list[MotionOut]:
    """Return the motions with their lengths."""
    clips = (clip_named(name, figure(1).skeleton) for name in CLIPS)
    return [MotionOut(name=c.name, label=c.name.replace("-", " ").capitalize(), seconds=len(c.rotations) * c.seconds) for c in clips]


@router.get("/{name}", response_class=Response, responses={200: {"content": {"application/octet-stream": {}}}})
def motion(name: str) -> Response:
    """Return a motion as one frame: `rotations` (frames, joints, 4) as quaternions x, y, z, w."""
    return Response(_frame(name), media_type="application/octet-stream", headers={"Cache-Control": "no-cache"})


@lru_cache(maxsize=8)
def _frame(name: str) -> bytes:
    clip = clip_named(name, figure(1).skeleton)
    notes = {"name": clip.name, "joints": list(clip.names), "seconds_per_frame": clip.seconds}
    return array_frame({"rotations": clip.rotations.astype("<f4")}, notes)
