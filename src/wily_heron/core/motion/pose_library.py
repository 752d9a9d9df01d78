"""The poses that ship with the figure: what the night mail of the marsh country does, by family."""

from ..errors import InputError
from ..figure.base.pose_types import Pose
from . import poses_at_rest, poses_in_action


def _library() -> dict[str, Pose]:
    families = (
        poses_at_rest.standing,
        poses_at_rest.reaching,
        poses_at_rest.sitting,
        poses_at_rest.kneeling,
        poses_at_rest.crouching,
        poses_in_action.striding,
        poses_in_action.working,
        poses_in_action.feeling,
        poses_in_action.extremes,
    )
    return {pose.name: pose for family in families for pose in family()}


POSES = _library()
"""By name; `rest` is the bind pose."""


def pose_named(name: str) -> Pose:
    """Return a shipped pose; raises `InputError` for an unknown name.

    >>> pose_named("kneel").label
    'Kneeling'
    """
    if name not in POSES:
        raise InputError(what=f"there is no pose called '{name}'", where="the pose library", todo=f"The poses are {', '.join(POSES)}.")
    return POSES[name]
