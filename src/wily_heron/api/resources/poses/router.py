"""The pose library and one's own poses, which of them stand on the pose axis, and posing by hand."""

from collections.abc import Mapping

import numpy as np
from fastapi import APIRouter

from ....core.figure.base.shapes import EXTRAS
from ....core.figure.extras import with_extras
from ....core.motion.own_poses import checked_rotations
from ....core.motion.posing import angles_of, copied_side, drag, handles, mirrored_rotations, turned
from ....core.motion.ranges import swings
from ....studio.productions import poses
from ....studio.wearer import wearer_as
from ...deps import AtDesk, ProductionId
from .schemas import DragIn, JointOut, LibraryPoseOut, OwnPoseIn, PosedOut, PoseIn, SideIn, SwingOut, TurnIn

router = APIRouter(prefix="/api/poses", tags=["poses"])


@router.get("")
def library(production: ProductionId) -> list[LibraryPoseOut]:
    """Return every pose of the library by family, one's own last."""
    return [LibraryPoseOut.of(pose) for pose in poses.library(production)]


@router.post("", status_code=201)
def add(production: ProductionId, pose: PoseIn) -> LibraryPoseOut:
    """Put a pose on the pose axis."""
    return LibraryPoseOut.of(poses.put_on_axis(production, pose.name))


@router.post("/own", status_code=201)
def keep(desk: AtDesk, pose: OwnPoseIn) -> LibraryPoseOut:
    """Keep a pose made by hand, put it on the pose axis and into stock."""
    return LibraryPoseOut.of(poses.keep(desk, pose.label, pose.rotations))


@router.delete("/own/{name}", status_code=204)
def forget(production: ProductionId, name: str) -> None:
    """Forget a pose made by hand that is not on the axis."""
    poses.forget(production, name)


@router.delete("/{name}", status_code=204)
def take_away(production: ProductionId, name: str) -> None:
    """Take a pose off the axis; what was measured in it is kept."""
    poses.take_off_axis(production, name)


@router.get("/joints")
def joints() -> list[JointOut]:
    """Return the joints that can be posed, with their ranges of motion in degrees."""
    held = handles()
    return [JointOut(name=name, handle=name in held, swings=[SwingOut.of(swing) for swing in swings(name)])
            for name in with_extras(EXTRAS, 1).skeleton.names if swings(name) or name in held]


@router.post("/drag")
def drag_joint(ask: DragIn) -> PosedOut:
    """Return the pose in which a joint has gone to a place on the stage (metres), as near as its ranges allow."""
    posed = drag(wearer_as(None, ask.shape), checked_rotations(ask.rotations), ask.joint, np.array(ask.target))
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


def _out(rotations: Mapping[str, np.ndarray], joint: str | None = None, short: float = 0.0) -> PosedOut:
    degrees = [round(float(a), 1) for a in angles_of(rotations, joint)] if joint and swings(joint) else []
    return PosedOut(rotations={j: [float(x) for x in q] for j, q in rotations.items()}, degrees=degrees, short=short)
