"""Hunts for failures on the wire."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from ....core.clearance.figures import Figures
from ....studio.sheet.hunts import Hunt
from ...wire import Out


class HuntIn(BaseModel):
    """How many random poses are tried on each wearer, how far joints go in them (share of their ranges), on how many mixes."""

    model_config = ConfigDict(extra="forbid")
    poses: int = Field(default=24, ge=1, le=400)
    share: float = Field(default=0.5, ge=0.1, le=1.0)
    mixes: int = Field(default=3, ge=0, le=60)


class HuntFoundOut(Out):
    """A pose that failed: on whom most (a wearer of the cast, or a mix whose shape is told) and on how many, figures and picture."""

    name: str
    wearer: int | None
    body: str | None
    shape: dict[str, float]
    rotations: dict[str, list[float]]
    figures: Figures
    picture: str | None
    fails_on: int


class HuntOut(Out):
    """A hunt: how far it is, how many cells failed, on how many wearers, and the worst of the poses."""

    id: int
    state: Literal["running", "done", "cancelled"]
    seed: int
    done: int
    total: int
    failed: int
    wearers: int
    started_at: datetime
    worst: list[HuntFoundOut]

    @classmethod
    def of(cls, found: Hunt) -> "HuntOut":
        """Return a hunt with the worst it has found."""
        row = found.row
        return cls(id=row.id, state=row.state, seed=row.seed, done=sum(p.done for p in found.parts),
                   total=sum(p.poses for p in found.parts), failed=found.failed, wearers=len(found.parts), started_at=row.started_at,
                   worst=[HuntFoundOut.of(pose) for pose in found.worst])
