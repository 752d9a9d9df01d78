"""What the Fitting room shows, but for geometry, whole and in its parts."""

from dataclasses import dataclass

from ...core.figure.base.pose_types import Pose
from ...core.motion.retarget import rotations_on
from ...store.db import Connection, transaction
from ...store.productions.bodies import BodyRow, bodies_of, body_for
from ...store.productions.motions import motion_names
from ...store.productions.outfits import OutfitRow, outfits_of
from ...store.productions.poses import axis_poses
from ...store.productions.production import get_production, sheet_motions
from ...store.productions.settings import Settings, settings_of
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

    id: int
    name: str
    shots: list[ShotRow]
    outfits: list[OutfitRow]
    settings: Settings
    pieces: list[PieceRow]


def overview(production: int | None = None) -> Overview:
    """Return a production as it stands, the one opened last where none is named. Raises `NotFound` if there is none."""
    with transaction() as connection:
        return read(connection, get_production(connection, production).id)


def read(connection: Connection, production: int) -> Overview:
    """Return a production as a transaction sees it."""
    row = get_production(connection, production)
    return Overview(id=row.id, name=row.name, shots=shots_of(connection, production), outfits=outfits_of(connection, production),
                    settings=settings_of(connection, production), pieces=pieces_of(connection, production),
                    **vars(_cast(connection, production)), **vars(_axis(connection, production)))


def cast(production: int) -> Cast:
    """Return who can be dressed."""
    with transaction() as connection:
        return _cast(connection, production)


def axis(production: int) -> Axis:
    """Return in what they are tried."""
    with transaction() as connection:
        return _axis(connection, production)


def pieces(production: int) -> list[PieceRow]:
    """Return what hangs on the rail, the outermost first."""
    with transaction() as connection:
        return pieces_of(connection, production)


def production_id(asked: int | None = None) -> int:
    """Return the production asked for, or the one opened last. Raises `NotFound` if there is none, or it lies in the bin."""
    with transaction() as connection:
        return get_production(connection, asked).id


def _cast(connection: Connection, production: int) -> Cast:
    poses = axis_poses(connection, production)
    return Cast(cast_of(connection, production), [_own(row, poses) for row in bodies_of(connection, production)])


def _axis(connection: Connection, production: int) -> Axis:
    on_sheet = set(sheet_motions(connection, production))
    return Axis(axis_poses(connection, production), [motion for motion in motion_names(connection) if motion[0] in on_sheet])


def _own(row: BodyRow, poses: list[Pose]) -> OwnBody:
    body = body_for(row.body, {})
    turned = [Pose(p.name, p.label, p.family, rotations_on(p, body.skeleton, body.posed_like)) for p in poses]
    return OwnBody(row, body.shapes, turned)
