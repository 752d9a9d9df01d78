"""The pose library and one's own poses, which of them stand on the pose axis, and posing by hand."""


import numpy as np
from fastapi import APIRouter

from ...core.errors import InputError
from ...core.figure.base.body import shape_values, shaped
from ...core.figure.base.shapes import EXTRAS
from ...core.figure.extras import figure_for, with_extras
from ...core.motion.own_poses import checked_rotations, own_pose
from ...core.motion.pose_library import POSES
from ...core.motion.posing import angles_of, copied_side, drag, handles, mirrored_rotations, turned
from ...core.motion.ranges import swings
from ...jobs.stocking import take_pose
from ...store import stock
from ...store.db import run, transaction
from ...store.events import notify
from ...store.poses import forget_pose, keep_pose, own_poses, pose_of, put_on_axis
from ..deps import Artist, ProductionId
from ..queue import ask
from ..schemas_poses import (
    DragIn,
    JointOut,
    LibraryPoseOut,
    OwnPoseIn,
    PosedOut,
    PoseIn,
    SideIn,
    SwingOut,
    TurnIn,
)

router = APIRouter(prefix="/api/poses", tags=["poses"])


@router.get("")
def library(production: ProductionId) -> list[LibraryPoseOut]:
    """Return every pose of the library by family, one's own last."""
    with transaction() as connection:
        own = own_poses(connection, production)
    return [LibraryPoseOut(name=p.name, label=p.label, family=p.family) for p in (*POSES.values(), *own) if p.name != "rest"]


@router.post("", status_code=201)
def add(production: ProductionId, pose: PoseIn) -> LibraryPoseOut:
    """Put a pose on the pose axis."""
    with transaction() as connection:
        chosen = pose_of(connection, pose.name)
        put_on_axis(connection, production, chosen.name)
    return LibraryPoseOut(name=chosen.name, label=chosen.label, family=chosen.family)


@router.post("/own", status_code=201)
def keep(production: ProductionId, artist: Artist, pose: OwnPoseIn) -> LibraryPoseOut:
    """Keep a pose made by hand, put it on the pose axis and into stock."""
    made = own_pose(pose.label, pose.rotations)
    with transaction() as connection:
        keep_pose(connection, production, made, artist)
        held = any(c["content"].get("rotations") == {j: [float(x) for x in q] for j, q in made.rotations.items()}
                   for c in stock.search(connection, stock.Asked(kind="pose", limit=200)))
        item = None if held else take_pose(connection, made, artist)
    if item is not None:
        ask("draw_strip", priority=1, item=item)
    return LibraryPoseOut(name=made.name, label=made.label, family=made.family)


@router.delete("/own/{name}", status_code=204)
def forget(production: ProductionId, name: str) -> None:
    """Forget a pose made by hand that is not on the axis."""
    with transaction() as connection:
        forget_pose(connection, production, name)


@router.delete("/{name}", status_code=204)
def take_away(production: ProductionId, name: str) -> None:
    """Take a pose off the axis; what was measured in it is kept."""
    with transaction() as connection:
        there = {r["pose"] for r in run(connection, "poses_of", production=production)}
        if name not in there:
            raise InputError(what=f"{name} is not on the pose axis", where="the production's poses", todo="Reload the room.")
        if len(there) == 1:
            raise InputError(what="it is the last pose", where="the production's poses", todo="Add another before taking this one away.")
        run(connection, "drop_pose", production=production, pose=name)
        notify(connection, "poses")


@router.get("/joints")
def joints() -> list[JointOut]:
    """Return the joints that can be posed, with their ranges of motion in degrees."""
    held = handles()
    return [
        JointOut(name=name, handle=name in held, swings=[SwingOut(name=s.name, low=s.low, high=s.high) for s in swings(name)])
        for name in with_extras(EXTRAS, 1).skeleton.names
        if swings(name) or name in held
    ]


@router.post("/drag")
def drag_joint(ask: DragIn) -> PosedOut:
    """Return the pose in which a joint has gone to a place on the stage (metres), as near as its ranges allow."""
    body = figure_for(ask.shape)
    wearer = shaped(body, shape_values(body, ask.shape))
    posed = drag(wearer, checked_rotations(ask.rotations), ask.joint, np.array(ask.target))
    return _out(posed.rotations, ask.joint, posed.short)


@router.post("/turn")
def turn_joint(ask: TurnIn) -> PosedOut:
    """Return the pose with one joint at the angles given (degrees, one for each of its swings); without any, as it is."""
    rotations = checked_rotations(ask.rotations)
    if ask.degrees is not None:
        rotations = turned(rotations, ask.joint, np.array(ask.degrees))
    return _out(rotations, ask.joint)


@router.post("/side")
def side(ask: SideIn) -> PosedOut:
    """Return the pose mirrored, or with one side's limbs copied to the other."""
    rotations = checked_rotations(ask.rotations)
    return _out(mirrored_rotations(rotations) if ask.act == "mirror" else copied_side(rotations, ask.act[-1]))


def _out(rotations, joint: str | None = None, short: float = 0.0) -> PosedOut:
    degrees = [round(float(a), 1) for a in angles_of(rotations, joint)] if joint and swings(joint) else []
    return PosedOut(rotations={j: [float(x) for x in q] for j, q in rotations.items()}, degrees=degrees, short=short)
