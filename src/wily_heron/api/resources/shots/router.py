"""The production's shots: set up on the stage or brought in as cameras, and taken away as such."""

from fastapi import APIRouter, Response, UploadFile

from ....core.errors import InputError
from ....formats.gltf.shots import read_shots, write_shots
from ....studio.productions import shots as studio
from ...deps import AtDesk, ProductionId
from ...received_files import sorted_files
from ...wire import answers, file
from .schemas import ShotIn, ShotOut

router = APIRouter(prefix="/api/shots", tags=["shots"])


@router.get("")
def shots(production: ProductionId) -> list[ShotOut]:
    """Return the shots, oldest first."""
    return [ShotOut.of(row) for row in studio.shots(production)]


@router.post("", status_code=201)
def add(desk: AtDesk, request: ShotIn) -> list[ShotOut]:
    """Keep a shot."""
    return [ShotOut.of(row) for row in studio.keep(desk, [request.shot], request.wearer, request.pose)]


@router.post("/cameras", status_code=201)
def bring_in(desk: AtDesk, files: list[UploadFile]) -> list[ShotOut]:
    """Keep every camera of glTF files as a shot for every cell."""
    mains, beside = sorted_files(files)
    found = [shot for name, data in mains for shot in read_shots(data, name, beside)]
    if not found:
        raise InputError(what="no file came", where="the shots", todo="Choose a .glb or .gltf with cameras.")
    return [ShotOut.of(row) for row in studio.keep(desk, found)]


@router.get("/cameras.glb", response_class=Response, responses=answers("model/gltf-binary"))
def take_away(production: ProductionId) -> Response:
    """Return the shots as the cameras of a .glb, such as `./heron trial --shots` reads."""
    return file(write_shots([row.shot for row in studio.shots(production)]), "shots.glb", "model/gltf-binary")


@router.put("/{shot}")
def change(production: ProductionId, shot: int, request: ShotIn) -> list[ShotOut]:
    """Change a shot: its name, its camera, the cells it shows."""
    return [ShotOut.of(row) for row in studio.change(production, shot, request.shot, request.wearer, request.pose)]


@router.delete("/{shot}")
def drop(production: ProductionId, shot: int) -> list[ShotOut]:
    """Drop a shot; it can be taken back."""
    return [ShotOut.of(row) for row in studio.drop(production, shot)]


@router.post("/{shot}/back")
def take_back(production: ProductionId, shot: int) -> list[ShotOut]:
    """Take back a shot that was dropped."""
    return [ShotOut.of(row) for row in studio.drop(production, shot, dropped=False)]
