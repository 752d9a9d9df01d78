"""All productions: listed, begun, named, opened, duplicated, archived and unpacked, put into the bin."""

import os
import tempfile

from fastapi import APIRouter, Response, UploadFile
from fastapi.responses import FileResponse
from starlette.background import BackgroundTask

from ....jobs.queue import ask
from ....studio.productions import all_productions, archiving, demo
from ...deps import Artist
from ...wire import answers
from .schemas import NameIn, ProductionLineOut

router = APIRouter(prefix="/api/productions", tags=["productions"])


@router.get("")
def productions() -> list[ProductionLineOut]:
    """Return every production, the one opened last first; those in the bin too."""
    return [ProductionLineOut.of(row) for row in all_productions.productions()]


@router.post("", status_code=201)
def begin(artist: Artist, request: NameIn) -> dict[str, int]:
    """Begin a production with one wearer of mean measures and five poses."""
    return {"id": all_productions.begin(request.name, artist)}


@router.get("/demo")
def demo_offered() -> dict[str, bool]:
    """Return whether the demo film can be loaded: it ships with the product, and there is no production yet."""
    return {"offered": demo.is_offered()}


@router.post("/demo", status_code=201)
def load_demo() -> dict[str, int]:
    """Load the demo film, with its stock; it takes some ten seconds."""
    return {"id": demo.load()}


@router.post("/unpack", status_code=201)
def unpack(file: UploadFile) -> dict[str, int]:
    """Put an archived production in beside all others, whole or not at all."""
    return {"id": archiving.unpack(file.file, file.filename or "the archive", ask)}


@router.delete("/bin")
def empty_bin() -> dict[str, list[int]]:
    """Delete what lies in the bin, for good."""
    return {"gone": all_productions.empty_bin()}


@router.patch("/{number}", status_code=204)
def rename(number: int, request: NameIn) -> None:
    """Give a production another name."""
    all_productions.rename(number, request.name)


@router.post("/{number}/open", status_code=204)
def opened(number: int) -> None:
    """Note that somebody opens a production: it stands first in the list."""
    all_productions.opened(number)


@router.post("/{number}/duplicate", status_code=201)
def duplicate(number: int) -> dict[str, int]:
    """Make a copy with all its history."""
    return {"id": all_productions.duplicate(number, ask)}


@router.get("/{number}/archive", response_class=Response, responses=answers("application/zip"))
def archive(number: int) -> Response:
    """Return a production as one file: a zip of rows as JSON, arrays and pictures, and the outfit as glTF."""
    with tempfile.NamedTemporaryFile(suffix=".zip", delete=False) as file:
        try:
            name = archiving.archive(number, file)
        except BaseException:
            os.unlink(file.name)
            raise
    return FileResponse(file.name, filename=name, media_type="application/zip", background=BackgroundTask(os.unlink, file.name))


@router.post("/{number}/bin", status_code=204)
def to_bin(number: int) -> None:
    """Put a production into the bin; nothing of it is lost until that is emptied."""
    all_productions.put_in_bin(number)


@router.post("/{number}/restore", status_code=204)
def restore(number: int) -> None:
    """Take a production out of the bin."""
    all_productions.put_in_bin(number, there=False)
