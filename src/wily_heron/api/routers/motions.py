"""Motions as the stage plays them: the shipped ones, and those in stock."""

from functools import lru_cache

from fastapi import APIRouter, Response

from ...core.figure.clips import CLIPS, clip_named
from ...core.figure.figure import figure
from ...store import stock
from ...store.arrays import array_frame, unpack
from ...store.db import get_blob, transaction
from ..schemas_poses import MotionOut

router = APIRouter(prefix="/api/motions", tags=["motions"])


@router.get("")
def motions() -> list[MotionOut]:
    """Return the motions with their lengths; those of the stock last."""
    clips = (clip_named(name, figure(1).skeleton) for name in CLIPS)
    shipped = [MotionOut(name=c.name, label=c.name.replace("-", " ").capitalize(), seconds=len(c.rotations) * c.seconds) for c in clips]
    with transaction() as connection:
        kept = stock.search(connection, stock.Asked(kind="motion", sort="name", limit=100))
    lengths = [r["content"]["frames"] * r["content"]["seconds_per_frame"] for r in kept]
    return shipped + [MotionOut(name=f"stock-{r['id']}", label=r["name"], seconds=s) for r, s in zip(kept, lengths, strict=True)]


@router.get("/{name}", response_class=Response, responses={200: {"content": {"application/octet-stream": {}}}})
def motion(name: str) -> Response:
    """Return a motion as one frame: `rotations` (frames, joints, 4) as quaternions x, y, z, w."""
    return Response(_frame(name), media_type="application/octet-stream", headers={"Cache-Control": "no-cache"})


@lru_cache(maxsize=8)
def _frame(name: str) -> bytes:
    if name.startswith("stock-") and name[6:].isdigit():
        with transaction() as connection:
            card = stock.item(connection, int(name[6:]))
            arrays, notes = unpack(get_blob(connection, card["source_sha"]))
        head = {"name": card["name"], "joints": notes["joints"], "seconds_per_frame": card["content"]["seconds_per_frame"]}
        return array_frame({"rotations": arrays["rotations"]}, head)
    clip = clip_named(name, figure(1).skeleton)
    notes = {"name": clip.name, "joints": list(clip.names), "seconds_per_frame": clip.seconds}
    return array_frame({"rotations": clip.rotations.astype("<f4")}, notes)
