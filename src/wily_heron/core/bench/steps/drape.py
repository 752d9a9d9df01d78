"""Drape: the piece falls as cloth, and where it comes to rest is kept."""

from dataclasses import replace

import numpy as np

from ...clear.pose_fix import with_fix
from ...drape.drape import Draping
from ...drape.passage import into_pose, through_motion
from ...errors import InputError
from ...figure.base.body import Body, shape_values, shaped
from ...model.state import Piece
from ...model.steps.draping import Drape, DrapeReport
from ...model.worn import rest_moves
from ...motion.clips import clip_named
from ...motion.motion import with_lead_in
from ...motion.own_poses import pose_for
from ...motion.pose import Pose
from ..step import BenchStep, Context, LayerOf


def draping(state: Piece, body: Body, step: Drape, layer_of: LayerOf) -> Draping:
    """Return the piece ready to fall in the cell of the step, with those that fall along with it; raises `InputError` for pieces that are
    not bound."""
    under, along = [layer_of(sha) for sha in step.over], [layer_of(each.piece) for each in step.along]
    if any(p.skin is None for p in (state, *along)):
        which = "the piece" if state.skin is None else "a piece that falls with it"
        raise InputError(what=f"{which} is not bound yet", where="the drape step", todo="Bind it first.")
    wearer = shaped(body, shape_values(body, step.cell.shape))
    if step.motion:
        clip = with_lead_in(clip_named(step.motion, wearer.skeleton), step.move)
        return Draping(state, wearer, step, through_motion(clip, step.settle, step.move), under, along=along)
    pose = pose_for(step.cell.pose, step.cell.rotations)
    return Draping(state, wearer, step, into_pose(pose, step.settle, step.move, step.hang), under, along=along)


def stance(falling: Draping, frame: int) -> Pose:
    """Return the pose that a frame of a drape is kept for: the cell's, or the motion's in that frame."""
    step = falling.step
    return falling.passage.at(frame) if step.motion else pose_for(step.cell.pose, step.cell.rotations)


def run(piece: Piece, context: Context, step: Drape) -> tuple[Piece, DrapeReport]:
    """Return the piece after it has fallen, its last frame kept."""
    falling = draping(piece, context.body, step, context.layer_of)
    check_there(falling, falling.frames - 1)
    points, pose = falling.run(), stance(falling, falling.frames - 1)
    move = rest_moves(piece, falling.wearer, pose, points)
    return _kept(piece, context.body, pose, move, step.keep), falling.report()


def check_there(falling: Draping, frame: int) -> None:
    """Raise `InputError` for a frame in which the wearer does not stand in the pose of the step yet: its cloth hangs on another."""
    if frame < falling.passage.there:
        raise InputError(what=f"in frame {frame + 1} the wearer is still on the way into the pose", where="the drape step",
                         todo=f"Keep frame {falling.passage.there + 1} or a later one.")


def kept_in(piece: Piece, body: Body, pose: Pose, move: np.ndarray, keep: str, report: DrapeReport) -> Piece:
    """Return the piece with the moves at rest `move` (n, 3) kept for good (rest) or as a corrective for the pose, and its
    report."""
    return _kept(piece, body, pose, move, keep).reporting(report)


def _kept(piece: Piece, body: Body, pose: Pose, move: np.ndarray, keep: str) -> Piece:
    if keep == "rest":
        return replace(piece, mesh=piece.mesh.moved((piece.mesh.points + move).astype(np.float32)))
    return with_fix(piece, body, pose, move, pose.label)


STEP = BenchStep(Drape, (DrapeReport,), run, order="clear", bench="drape", repeats=True, needs="bind")
