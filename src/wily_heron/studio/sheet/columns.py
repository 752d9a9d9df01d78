"""The columns of the trial sheet: poses, and motions that stand for their worst frame; under which key a cell is known."""

import hashlib
from collections.abc import Sequence
from dataclasses import replace

from ...core.clearance.cell import CellResult, Dressed
from ...core.clearance.figures import Figures
from ...core.clearance.find.shots import Shot
from ...core.clearance.trial import worst_frame
from ...core.figure.figure import figure_version
from ...core.motion.motion import Motion
from ...core.motion.pose import Pose
from ...store.db import Connection, transaction
from ...store.productions.motions import motion_of
from ...store.productions.poses import pose_of
from ...store.productions.production import poses_on_axis, sheet_motions
from ...store.productions.shots import ShotRow, shots_key
from ...store.productions.wearers import CastRow
from ...store.sheet.trials import Worn

MOTION = "motion:"
"""A column of the sheet that begins so is a motion, and stands for its worst frame."""
_JOBS = 4


def columns_of(connection: Connection, production: int) -> list[str]:
    """Return the columns of the sheet: the pose axis, then the motions."""
    return [*poses_on_axis(connection, production), *(MOTION + name for name in sheet_motions(connection, production))]


def cell_key(pieces: Worn, who: CastRow, column: str, shots: Sequence[ShotRow] = ()) -> str:
    """Return the key under which a measured cell is known: what is worn, by whom, how, on which figure or body, in which shots."""
    worn = "|".join(f"{name}={sha}" for name, sha in pieces)
    settings = ",".join(f"{name}={value:g}" for name, value in sorted(who.shape.items()))
    content = f"cell-8|{figure_version()}|{who.body or ''}|{worn}|{settings}|{column}{shots_key(shots, who.id, column)}"
    return hashlib.sha256(content.encode()).hexdigest()


def portions(columns: Sequence[str], wearers: int) -> list[list[str]]:
    """Return a wearer's columns in as many jobs as it takes to keep four workers busy with so many wearers."""
    jobs = min(len(columns), -(-_JOBS // max(wearers, 1)))
    return [list(columns[k::jobs]) for k in range(jobs)]


def measured(dressed: Dressed, column: str, shots: Sequence[Shot] | None = None) -> CellResult:
    """Return the cell of a column: in its pose, or in the worst frame of its motion, which its figures then tell."""
    if not column.startswith(MOTION):
        return dressed.measure(_pose(column), look_for_holes=True, shots=shots)
    motion = _motion(column)
    frame, _ = worst_frame(dressed, motion)
    pose = motion.pose(frame)
    cell = dressed.measure(pose, look_for_holes=True, shots=shots)
    turns = {j: [round(float(x), 5) for x in q] for j, q in pose.rotations.items()}
    moment = {"frame": frame, "seconds": round(frame * motion.seconds, 3), "rotations": turns}
    return replace(cell, figures=cell.figures.model_copy(update=moment))


def pose_of_cell(column: str, figures: Figures) -> Pose:
    """Return the pose that a cell of a column was measured in: the column's, or the frame of its motion that the `figures` tell."""
    return _motion(column).pose(figures.frame or 0) if column.startswith(MOTION) else _pose(column)


def _pose(column: str) -> Pose:
    with transaction() as connection:
        return pose_of(connection, column)


def _motion(column: str) -> Motion:
    with transaction() as connection:
        return motion_of(connection, column.removeprefix(MOTION))
