"""What the Fitting room shows, but for geometry, in one answer."""

from dataclasses import dataclass

from ...core.figure.base.pose_types import Pose
from ...core.motion.retarget import rotations_on
from ...store.db import transaction
from ...store.productions.bodies import BodyRow, bodies_of, body_for
from ...store.productions.motions import motion_names
from ...store.productions.poses import axis_poses
from ...store.productions.production import get_production, sheet_motions
from ...store.productions.shots import ShotRow, shots_of
from ...store.productions.wearers import CastRow, cast_of
from ...store.rail.pieces import PieceRow, pieces_of


@dataclass(frozen=True)
class OwnBody:
    """A body of one's own with its sliders and the poses of the axis on its joints."""

    row: BodyRow
    shapes: tuple[str, ...]
    poses: list[Pose]


@dataclass(frozen=True)
class Overview:
    """A production: cast, pose axis, motions on the sheet (name, label, seconds), bodies of one's own, shots, and the rail."""

    name: str
    cast: list[CastRow]
    poses: list[Pose]
    motions: list[tuple[str, str, float]]
    bodies: list[OwnBody]
    shots: list[ShotRow]
    pieces: list[PieceRow]


def overview() -> Overview:
    """Return the production as it stands. Raises `NotFound` if there is none."""
    with transaction() as connection:
        production = get_production(connection)
        poses, on_sheet = axis_poses(connection, production.id), set(sheet_motions(connection, production.id))
        motions = [motion for motion in motion_names(connection) if motion[0] in on_sheet]
        cast, shots = cast_of(connection, production.id), shots_of(connection, production.id)
        pieces, bodies = pieces_of(connection, production.id), bodies_of(connection, production.id)
    return Overview(production.name, cast, poses, motions, [_own(row, poses) for row in bodies], shots, pieces)


def production_id() -> int:
    """Return the production everyone works on. Raises `NotFound` if there is none."""
    with transaction() as connection:
        return get_production(connection).id


def _own(row: BodyRow, poses: list[Pose]) -> OwnBody:
    body = body_for(row.body, {})
    turned = [Pose(p.name, p.label, p.family, rotations_on(p, body.skeleton, body.posed_like)) for p in poses]
    return OwnBody(row, body.shapes, turned)
