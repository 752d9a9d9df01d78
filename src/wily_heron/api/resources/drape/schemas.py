"""The drape step on the wire."""

from typing import Literal

from pydantic import BaseModel, Field

from ....core.model.steps.draping import Drape
from ....store.rail.bakes import BakeRow
from ...wire import Out


class BakeIn(BaseModel):
    """How a piece is to fall, and the `poses` by name in which it is to be kept; the shape is that of the step's cell."""

    step: Drape
    poses: list[str] = Field(min_length=1, max_length=60)


class FallOut(Out):
    """A whole fall that is kept, with its size; `stale` once the piece has been changed since."""

    id: int
    label: str
    frames: int
    bytes: int
    stale: bool
    author: str


class BakeOut(Out):
    """A bake: `done` of its `poses` (labels) are kept, the next one is in `frame` of `frames`; `strain` is the 99th percentile of each
    that is done; `why` it failed."""

    id: int
    state: Literal["running", "done", "cancelled", "failed"]
    poses: list[str]
    done: int
    frame: int
    frames: int
    strain: list[float]
    why: str

    @classmethod
    def of(cls, found: BakeRow) -> "BakeOut":
        """Return a bake with what its poses are called."""
        return cls(id=found.id, state=found.state, poses=[pose.label for pose in found.poses], done=found.done, frame=found.frame,
                   frames=found.frames, strain=found.strain, why=found.why)
