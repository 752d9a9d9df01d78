"""Poses on the wire."""

from typing import Literal

from pydantic import BaseModel, Field

from ....core.model.steps.alteration import Quaternion, Vector
from ...wire import Out


class LibraryPoseOut(Out):
    """A pose of the library."""

    name: str
    label: str
    family: str


class SwingOut(Out):
    """One way a joint turns, and its range in degrees."""

    name: str
    low: float
    high: float


class JointOut(Out):
    """A joint that can be posed; `handle` if it can be dragged."""

    name: str
    handle: bool
    swings: list[SwingOut]


class PosedOut(Out):
    """A pose made by hand: rotations by joint, the joint's angles in degrees, how far it stayed from where it was wanted (metres)."""

    rotations: dict[str, list[float]]
    degrees: list[float]
    short: float


class PoseIn(BaseModel):
    """A pose of the library by name."""

    name: str


class _Posing(BaseModel):
    """The pose in hand: local rotations by joint."""

    rotations: dict[str, Quaternion] = Field(max_length=200)


class OwnPoseIn(_Posing):
    """A pose made by hand, with its name."""

    label: str = Field(min_length=1, max_length=40)


class DragIn(_Posing):
    """A joint to bring to a place on the stage, on a wearer of this shape."""

    shape: dict[str, float]
    joint: str
    target: Vector


class TurnIn(_Posing):
    """A joint to turn to these angles in degrees; left out, to be read."""

    joint: str
    degrees: list[float] | None = Field(default=None, max_length=3)


class SideIn(_Posing):
    """Mirror the pose, or copy the limbs of one side to the other."""

    act: Literal["mirror", "copy l", "copy r"]
