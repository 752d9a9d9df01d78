"""The production's shots: set up on the stage or brought in as cameras, and taken away as such."""

from fastapi import APIRouter, Response, UploadFile

from ...core.clearance.find.shots import Shot
from ...core.errors import InputError
from ...formats.gltf_shots import read_shots, write_shots
from ...store import shots as store
from ...store.db import Connection, run, transaction
from ..deps import Artist, ProductionId
from ..received_files import sorted_files
from ..schemas_shots import ShotIn, ShotOut, shots_out

router = APIRouter(prefix="/api/shots", tags=["shots"])


@router.get("")
def shots(production: ProductionId) -> list[ShotOut]:
    """Return the shots, oldest first."""
    with transaction() as connection:
        return shots_out(store.shots_of(connection, production))


@router.post("", status_code=201)
def add(production: ProductionId, artist: Artist, asked: ShotIn) -> list[ShotOut]:
    """Keep a shot."""
    with transaction() as connection:
        _check(connection, production, asked)
        store.keep_shots(connection, production, [asked.shot], asked.wearer, asked.pose, artist)
    return shots(production)


@router.post("/cameras", status_code=201)
def bring_in(production: ProductionId, artist: Artist, files: list[UploadFile]) -> list[ShotOut]:
    """Keep every camera of glTF files as a shot for every cell."""
    mains, beside = sorted_files(files)
    found = [shot for name, data in mains for shot in read_shots(data, name, beside)]
    if not found:
        raise InputError(what="no file came", where="the shots", todo="Choose a .glb or .gltf with cameras.")
    with transaction() as connection:
        store.keep_shots(connection, production, found, None, None, artist)
    return shots(production)


@router.get("/cameras.glb", response_class=Response, responses={200: {"content": {"model/gltf-binary": {}}}})
def take_away(production: ProductionId) -> Response:
    """Return the shots as the cameras of a .glb, such as `./heron trial --shots` reads."""
    with transaction() as connection:
        kept = store.shots_of(connection, production)
    data = write_shots([Shot.model_validate(s["camera"]) for s in kept])
    return Response(data, media_type="model/gltf-binary", headers={"Content-Disposition": 'attachment; filename="shots.glb"'})


@router.put("/{shot}")
def change(production: ProductionId, shot: int, asked: ShotIn) -> list[ShotOut]:
    """Change a shot: its name, its camera, the cells it shows."""
    with transaction() as connection:
        _check(connection, production, asked)
        store.change_shot(connection, production, shot, asked.shot, asked.wearer, asked.pose)
    return shots(production)


@router.delete("/{shot}")
def drop(production: ProductionId, shot: int) -> list[ShotOut]:
    """Drop a shot; it can be taken back."""
    with transaction() as connection:
        store.drop_shot(connection, production, shot)
    return shots(production)


@router.post("/{shot}/back")
def take_back(production: ProductionId, shot: int) -> list[ShotOut]:
    """Take back a shot that was dropped."""
    with transaction() as connection:
        store.drop_shot(connection, production, shot, dropped=False)
    return shots(production)


def _check(connection: Connection, production: int, asked: ShotIn) -> None:
    if asked.wearer is not None and asked.wearer not in {w["id"] for w in run(connection, "cast_of", production=production)}:
        raise InputError(what="that wearer is not of the cast", where=f"the shot {asked.shot.name}", todo="Choose one of the cast.")
