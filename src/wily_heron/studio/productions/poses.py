"""The pose axis, the poses made by hand, and the motions on the sheet."""

from ...core.errors import InputError, NotFound
from ...core.figure.base.pose_types import Pose
from ...core.motion.motion import Motion
from ...core.motion.own_poses import own_pose
from ...core.motion.pose_library import POSES
from ...store.db import transaction
from ...store.productions import motions as motion_store
from ...store.productions import poses as store
from ...store.productions import production as axis
from ...store.stock.items import Query, search
from .. import work
from ..desk import Desk
from ..stock.taking_in import take_pose

MotionLine = tuple[str, str, float]
"""A motion: its name, its label, its length in seconds."""


def library(production: int) -> list[Pose]:
    """Return every pose of the library by family, one's own last."""
    with transaction() as connection:
        own = store.own_poses(connection, production)
    return [p for p in (*POSES.values(), *own) if p.name != "rest"]


def pose_named(name: str) -> Pose:
    """Return a pose, the library's or one's own. Raises `InputError` if there is none."""
    with transaction() as connection:
        return store.pose_of(connection, name)


def put_on_axis(production: int, name: str) -> Pose:
    """Put a pose on the pose axis; return it."""
    with transaction() as connection:
        pose = store.pose_of(connection, name)
        axis.put_on_axis(connection, production, pose.name)
    return pose


def take_off_axis(production: int, name: str) -> None:
    """Take a pose off the axis; what was measured in it is kept. Raises `InputError` for the last one, `NotFound` for one not there."""
    with transaction() as connection:
        there = axis.poses_on_axis(connection, production)
        if name not in there:
            raise NotFound(what=f"{name} is not on the pose axis", where="the production's poses", todo="Reload the room.")
        if len(there) == 1:
            raise InputError(what="it is the last pose", where="the production's poses", todo="Add another before taking this one away.")
        axis.take_off_axis(connection, production, name)


def keep(desk: Desk, label: str, rotations: dict[str, tuple[float, float, float, float]]) -> Pose:
    """Keep a pose made by hand, put it on the pose axis, and into stock if it is not there; return it."""
    pose = own_pose(label, rotations)
    with transaction() as connection:
        store.keep_pose(connection, desk.production, pose, desk.artist)
        plain = {j: [float(x) for x in q] for j, q in pose.rotations.items()}
        held = any(card.content.get("rotations") == plain for card in search(connection, Query(kind="pose", limit=200)))
        item = None if held else take_pose(connection, pose, desk.artist)
    if item is not None:
        desk.ask(work.draw(item))
    return pose


def forget(production: int, name: str) -> None:
    """Forget a pose made by hand that is not on the axis."""
    with transaction() as connection:
        store.forget_pose(connection, production, name)


def motions() -> list[MotionLine]:
    """Return every motion, those of the stock last."""
    with transaction() as connection:
        return motion_store.motion_names(connection)


def motion_named(name: str) -> Motion:
    """Return a motion on the figure's joints. Raises `InputError` if there is none."""
    with transaction() as connection:
        return motion_store.motion_of(connection, name)


def put_on_sheet(production: int, motion: str, there: bool) -> list[MotionLine]:
    """Put a motion on the trial sheet, or take it off; return those that stand there. Raises `NotFound` if there is none."""
    with transaction() as connection:
        known = motion_store.motion_names(connection)
        if there and motion not in {name for name, _, _ in known}:
            raise NotFound(what=f"there is no motion {motion}", where="the trial sheet", todo="Choose one of the list.")
        axis.put_on_sheet(connection, production, motion, there)
        standing = axis.sheet_motions(connection, production)
    return [line for line in known if line[0] in standing]
