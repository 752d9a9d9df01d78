"""The drape step on a piece as it stands: it falls as cloth, and where it comes to rest is kept."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from ..clear.pose_fix import with_fix
from ..drape.drape import Draping
from ..drape.passage import into_pose, through_motion
from ..errors import InputError
from ..figure.base.body import Body, Wearer, shape_values, shaped
from ..figure.base.skinning import blended_linear
from ..model.state import Piece
from ..model.steps.draping import Drape
from ..model.worn import piece_matrices, worn_points
from ..motion.clips import clip_named
from ..motion.motion import with_lead_in
from ..motion.own_poses import pose_for
from ..motion.pose import Pose, pose_matrices


def draping(state: Piece, body: Body, step: Drape, layer_of: Callable[[str], Piece]) -> Draping:
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


def draped(state: Piece, body: Body, step: Drape, layer_of: Callable[[str], Piece]) -> Piece:
    """Return the piece after it has fallen; its report gains what the cloth came to."""
    falling = draping(state, body, step, layer_of)
    check_there(falling, falling.frames - 1)
    points = falling.run()
    pose = stance(falling, falling.frames - 1)
    return kept_in(state, body, pose, rest_moves(state, falling.wearer, pose, points), step.keep, falling.report())


def check_there(falling: Draping, frame: int) -> None:
    """Raise `InputError` for a frame in which the wearer does not stand in the pose of the step yet: its cloth hangs on another."""
    if frame < falling.passage.there:
        raise InputError(what=f"in frame {frame + 1} the wearer is still on the way into the pose", where="the drape step",
                         todo=f"Keep frame {falling.passage.there + 1} or a later one.")


def kept_in(state: Piece, body: Body, pose: Pose, move: np.ndarray, keep: str, report: dict) -> Piece:
    """Return the piece with the moves at rest `move` (n, 3) kept for good (rest) or as a corrective for the pose."""
    told = {**state.report, "drape": [*state.report.get("drape", []), report]}
    if keep == "rest":
        return replace(state, mesh=state.mesh.moved((state.mesh.points + move).astype(np.float32)), report=told)
    return replace(with_fix(state, body, pose, move, pose.label), report=told)


def rest_moves(state: Piece, wearer: Wearer, pose: Pose, points: np.ndarray) -> np.ndarray:
    """Return the moves at rest (n, 3) that take a bound piece to `points` (n, 3) on a wearer in a pose."""
    assert state.skin is not None
    matrices = pose_matrices(wearer, pose)
    linear = blended_linear(state.skin, piece_matrices(state, wearer, pose, matrices))
    off = points - worn_points(state, wearer, pose, matrices)
    return np.linalg.solve(linear, off[:, :, None])[:, :, 0]
