"""Wire types of the trial sheet's motions, and of hunts for failures."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from .schemas import FiguresOut
from .schemas_base import Out


class SheetMotionIn(BaseModel):
    """A motion on the trial sheet, or off it."""

    model_config = ConfigDict(extra="forbid")
    motion: str = Field(max_length=60)
    there: bool = True


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
    figures: FiguresOut
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
