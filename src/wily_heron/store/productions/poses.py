"""Poses as they are kept: the library's, and those made in a production."""

import numpy as np
from psycopg.types.json import Jsonb

from ...core.errors import InputError, NotFound
from ...core.figure.base.pose_types import Pose
from ...core.motion.own_poses import FAMILY
from ...core.motion.pose_library import pose_named
from ..db import Connection, Row, changed, row, rows, run
from ..events import notify
from .production import poses_on_axis, put_on_axis


class _OwnPose(Row):
    name: str
    label: str
    rotations: dict[str, list[float]]

    def pose(self) -> Pose:
        return Pose(self.name, self.label, FAMILY, {joint: np.array(q) for joint, q in self.rotations.items()})


def pose_of(connection: Connection, name: str) -> Pose:
    """Return a pose by name, the library's or one's own; raises `InputError` if there is none."""
    own = row(connection, _OwnPose, "own_pose", name=name) if name.startswith(f"{FAMILY}-") else None
    return own.pose() if own else pose_named(name)


def axis_poses(connection: Connection, production: int) -> list[Pose]:
    """Return the poses of the pose axis, in order."""
    names = poses_on_axis(connection, production)
    own = {found.name: found.pose() for found in rows(connection, _OwnPose, "own_poses_named", names=names)}
    return [own.get(name) or pose_named(name) for name in names]


def own_poses(connection: Connection, production: int) -> list[Pose]:
    """Return the poses made in a production."""
    return [own.pose() for own in rows(connection, _OwnPose, "own_poses", production=production)]


def keep_pose(connection: Connection, production: int, pose: Pose, author: str) -> None:
    """Keep a pose of one's own and put it on the pose axis."""
    rotations = {joint: q.tolist() for joint, q in pose.rotations.items()}
    run(connection, "keep_pose", production=production, name=pose.name, label=pose.label, rotations=Jsonb(rotations), author=author)
    put_on_axis(connection, production, pose.name)


def forget_pose(connection: Connection, production: int, name: str) -> None:
    """Forget a pose of one's own; raises `InputError` while it stands on the axis, `NotFound` if there is none."""
    if name in poses_on_axis(connection, production):
        raise InputError(what="it stands on the pose axis", where=f"the pose {name}", todo="Take it off the axis first.")
    if not changed(connection, "forget_pose", production=production, name=name):
        raise NotFound(what=f"there is no pose {name} of your own", where="the poses", todo="Reload the room.")
    notify(connection, "poses")
