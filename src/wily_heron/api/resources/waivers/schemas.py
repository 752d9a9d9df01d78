"""What is left as it is, and the cells that matter, on the wire."""

from datetime import datetime

from pydantic import BaseModel, ConfigDict, Field

from ...wire import Out


class WaiverIn(BaseModel):
    """Leave what shows through a piece in a cell as it is, for a reason; `by_shots` only as long as no shot sees it."""

    model_config = ConfigDict(extra="forbid")
    wearer: int
    pose: str
    over: str = Field(max_length=80)
    reason: str = Field(min_length=1, max_length=200)
    by_shots: bool = False


class WaiverOut(Out):
    """What is left as it is, why, and who said so."""

    id: int
    wearer: int
    pose: str
    over: str
    reason: str
    by_shots: bool
    author: str
    made_at: datetime


class PinIn(BaseModel):
    """A cell that matters, or no longer."""

    model_config = ConfigDict(extra="forbid")
    wearer: int
    pose: str
    pinned: bool = True


class PinOut(Out):
    """A cell that matters."""

    wearer: int
    pose: str
