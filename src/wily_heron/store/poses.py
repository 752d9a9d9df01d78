"""Poses as they are kept: the library's, and those made in a production."""

import numpy as np
from psycopg.types.json import Jsonb

from ..core.errors import InputError, NotFound
from ..core.figure.base.pose_types import Pose
from ..core.motion.own_poses import FAMILY
from ..core.motion.pose_library import pose_named
from .db import Connection, one, run
from .events import notify


def pose_of(connection: Connection, name: str) -> Pose:
    """Return a pose by name, the library's or one's own; raises `InputError` if there is none."""
    row = one(connection, "own_pose", name=name) if name.startswith(f"{FAMILY}-") else None
    return _pose(row) if row else pose_named(name)


def own_poses(connection: Connection, production: int) -> list[Pose]:
    """Return the poses made in a production."""
    return [_pose(row) for row in run(connection, "own_poses", production=production)]


def keep_pose(connection: Connection, production: int, pose: Pose, author: str) -> None:
    """Keep a pose of one's own and put it on the pose axis."""
    rotations = {joint: q.tolist() for joint, q in pose.rotations.items()}
    run(connection, "keep_pose", production=production, name=pose.name, label=pose.label, rotations=Jsonb(rotations), author=author)
    put_on_axis(connection, production, pose.name)


def put_on_axis(connection: Connection, production: int, name: str) -> None:
    """Put a pose on the pose axis, if it is not there."""
    if name not in {r["pose"] for r in run(connection, "poses_of", production=production)}:
        run(connection, "add_pose", production=production, pose=name)
    notify(connection, "poses")


def forget_pose(connection: Connection, production: int, name: str) -> None:
    """Forget a pose of one's own; raises `InputError` while it stands on the axis, or if there is none."""
    if name in {r["pose"] for r in run(connection, "poses_of", production=production)}:
        raise InputError(what="it stands on the pose axis", where=f"the pose {name}", todo="Take it off the axis first.")
    if not run(connection, "forget_pose", production=production, name=name):
        raise NotFound(what=f"there is no pose {name} of your own", where="the poses", todo="Reload the room.")
    notify(connection, "poses")


def _pose(row: dict) -> Pose:
    return Pose(row["name"], row["label"], FAMILY, {joint: np.array(q) for joint, q in row["rotations"].items()})
