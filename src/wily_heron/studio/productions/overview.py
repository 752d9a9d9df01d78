"""What the Fitting room shows, but for geometry, whole and in its parts."""

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
class Cast:
    """The wearers of a production, and the bodies of their own that some have."""

    cast: list[CastRow]
    bodies: list[OwnBody]


@dataclass(frozen=True)
class Axis:
    """The columns of the sheet: poses, and motions (name, label, seconds)."""

    poses: list[Pose]
    motions: list[tuple[str, str, float]]


@dataclass(frozen=True)
class Overview(Cast, Axis):
    """A production: its cast, its sheet's axis, the shots, and the rail."""

    name: str
    shots: list[ShotRow]
    pieces: list[PieceRow]


def overview() -> Overview:
    """Return the production as it stands. Raises `NotFound` if there is none."""
    with transaction() as connection:
        production = get_production(connection)
        shots = shots_of(connection, production.id)
    at = production.id
    return Overview(name=production.name, shots=shots, pieces=pieces(at), **vars(cast(at)), **vars(axis(at)))


def cast(production: int) -> Cast:
    """Return who can be dressed."""
    with transaction() as connection:
        poses = axis_poses(connection, production)
        wearers, bodies = cast_of(connection, production), bodies_of(connection, production)
    return Cast(wearers, [_own(row, poses) for row in bodies])


def axis(production: int) -> Axis:
    """Return in what they are tried."""
    with transaction() as connection:
        on_sheet = set(sheet_motions(connection, production))
        return Axis(axis_poses(connection, production), [motion for motion in motion_names(connection) if motion[0] in on_sheet])


def pieces(production: int) -> list[PieceRow]:
    """Return what hangs on the rail, the outermost first."""
    with transaction() as connection:
        return pieces_of(connection, production)


def production_id() -> int:
    """Return the production everyone works on. Raises `NotFound` if there is none."""
    with transaction() as connection:
        return get_production(connection).id


def _own(row: BodyRow, poses: list[Pose]) -> OwnBody:
    body = body_for(row.body, {})
    turned = [Pose(p.name, p.label, p.family, rotations_on(p, body.skeleton, body.posed_like)) for p in poses]
    return OwnBody(row, body.shapes, turned)
