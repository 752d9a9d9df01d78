"""The poses that ship with the figure, read from their table: what the night mail of the marsh country does, by family."""

import tomllib
from pathlib import Path
from typing import Any

from ..errors import InputError
from ..figure.base.pose_types import Pose
from .pose_author import PoseAuthor


def read_poses(path: Path) -> dict[str, Pose]:
    """Return the poses of a table by name; what one leaves out is as in the bind pose. See `poses.toml` for how they are written."""
    return {name: _pose(name, row) for name, row in tomllib.loads(path.read_text()).items()}


def _pose(name: str, row: dict[str, Any]) -> Pose:
    author = PoseAuthor()
    for side, arm in row.get("arm", {}).items():
        author.arm(side, **arm)
    for side, degrees in row.get("fist", {}).items():
        author.fist(side, degrees)
    for side, degrees in row.get("thumb", {}).items():
        author.thumb(side, degrees)
    for side, leg in row.get("leg", {}).items():
        author.leg(side, **leg)
    if "spine" in row:
        author.spine(**row["spine"])
    return author.pose(name, row.get("label", name.capitalize()), row.get("family", "clip"))


POSES = read_poses(Path(__file__).with_name("poses.toml"))
"""By name; `rest` is the bind pose."""


def pose_named(name: str) -> Pose:
    """Return a shipped pose; raises `InputError` for an unknown name.

    >>> pose_named("kneel").label
    'Kneeling'
    """
    if name not in POSES:
        raise InputError(what=f"there is no pose called '{name}'", where="the pose library", todo=f"The poses are {', '.join(POSES)}.")
    return POSES[name]
