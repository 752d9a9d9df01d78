"""The cell on the stage: a wearer as it stands there, in what is shown on it."""

from pydantic import BaseModel, ConfigDict, Field

from ..core.figure.base.body import Body
from ..core.figure.base.pose_types import Pose
from ..core.model.steps.alteration import Cell
from ..core.motion.own_poses import pose_for
from ..store.productions.bodies import body_for


class ShownPiece(BaseModel):
    """A piece as it is shown: its number and the address of its geometry."""

    model_config = ConfigDict(extra="forbid")
    piece: int
    geometry: str = Field(pattern="^[0-9a-f]{64}$")


class StageCell(Cell):
    """The cell to measure now, with the shape as it stands on the stage, on a body of one's own or the house's figure.

    `wearer` says which shots show it. `pieces` are those that are shown, as they are shown; all that stand if they are not named, with
    `unfinished` as their steps made them, without their finish.
    """

    body: str | None = None
    pieces: list[ShownPiece] | None = Field(default=None, max_length=100)
    wearer: int | None = None
    unfinished: bool | None = None

    def on(self) -> Body:
        """Return the body it is on."""
        return body_for(self.body, self.shape)

    def stance(self) -> Pose:
        """Return the pose it is in."""
        return pose_for(self.pose, self.rotations)
