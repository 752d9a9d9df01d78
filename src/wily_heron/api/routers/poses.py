"""The pose library, and which of it stand on the production's pose axis."""

from fastapi import APIRouter

from ...core.errors import InputError
from ...core.figure.pose_library import POSES, pose_named
from ...store.db import run, tell, transaction
from ..schemas import LibraryPoseOut, PoseIn
from .production import the_production

router = APIRouter(prefix="/api/poses", tags=["poses"])


@router.get("")
def library() -> list[LibraryPoseOut]:
    """Return every pose of the library by family."""
    return [LibraryPoseOut(name=p.name, label=p.label, family=p.family) for p in POSES.values() if p.name != "rest"]


@router.post("", status_code=201)
def add(pose: PoseIn) -> LibraryPoseOut:
    """Put a pose of the library on the pose axis."""
    chosen = pose_named(pose.name)
    with transaction() as connection:
        production = the_production(connection)["id"]
        if chosen.name not in {r["pose"] for r in run(connection, "poses_of", production=production)}:
            run(connection, "add_pose", production=production, pose=chosen.name)
            tell(connection, "poses")
    return LibraryPoseOut(name=chosen.name, label=chosen.label, family=chosen.family)


@router.delete("/{name}", status_code=204)
def take_away(name: str) -> None:
    """Take a pose off the axis; what was measured in it is kept."""
    with transaction() as connection:
        production = the_production(connection)["id"]
        there = {r["pose"] for r in run(connection, "poses_of", production=production)}
        if name not in there:
            raise InputError(what=f"{name} is not on the pose axis", where="the production's poses", todo="Reload the room.")
        if len(there) == 1:
            raise InputError(what="it is the last pose", where="the production's poses", todo="Add another before taking this one away.")
        run(connection, "drop_pose", production=production, pose=name)
        tell(connection, "poses")
