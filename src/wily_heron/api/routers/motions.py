"""Motions as the stage plays them: the shipped ones, and those in stock; which of them stand on the trial sheet."""

from functools import lru_cache

from fastapi import APIRouter, Response

from ...core.errors import InputError
from ...store.arrays import array_frame
from ...store.db import run, transaction
from ...store.events import notify
from ...store.motions import motion_names, motion_of
from ..deps import ProductionId
from ..schemas import MotionOut
from ..schemas_hunts import SheetMotionIn

router = APIRouter(prefix="/api/motions", tags=["motions"])


@router.get("")
def motions() -> list[MotionOut]:
    """Return the motions with their lengths; those of the stock last."""
    with transaction() as connection:
        return [MotionOut(name=n, label=label, seconds=s) for n, label, s in motion_names(connection)]


@router.put("/sheet")
def on_sheet(production: ProductionId, asked: SheetMotionIn) -> list[MotionOut]:
    """Put a motion on the trial sheet, where it stands for its worst frame, or take it off; return those that stand there."""
    with transaction() as connection:
        if asked.there and asked.motion not in {n for n, _, _ in motion_names(connection)}:
            raise InputError(what=f"there is no motion {asked.motion}", where="the trial sheet", todo="Choose one of the list.")
        run(connection, "add_sheet_motion" if asked.there else "drop_sheet_motion", production=production, motion=asked.motion)
        standing = {r["motion"] for r in run(connection, "sheet_motions", production=production)}
        notify(connection, "poses")
        return [MotionOut(name=n, label=label, seconds=s) for n, label, s in motion_names(connection) if n in standing]


@router.get("/{name}", response_class=Response, responses={200: {"content": {"application/octet-stream": {}}}})
def motion(name: str) -> Response:
    """Return a motion as one frame: `rotations` (frames, joints, 4) as quaternions x, y, z, w."""
    return Response(_frame(name), media_type="application/octet-stream", headers={"Cache-Control": "no-cache"})


@lru_cache(maxsize=8)
def _frame(name: str) -> bytes:
    with transaction() as connection:
        clip = motion_of(connection, name)
    notes = {"name": clip.name, "joints": list(clip.names), "seconds_per_frame": clip.seconds}
    return array_frame({"rotations": clip.rotations.astype("<f4")}, notes)
