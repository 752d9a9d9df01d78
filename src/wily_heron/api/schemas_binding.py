"""Wire types of the bind and follow steps."""

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from .schemas_base import Out


class BindJointOut(Out):
    """A joint a piece can be bound to: its name, what it is called, and how many vertices' worth of the piece it bears."""

    name: str
    label: str
    bears: float


class BendOut(Out):
    """One swing of one joint: how far (degrees), the worst stretch of an edge (times its length), the depth under the skin (mm)."""

    joint: str
    label: str
    swing: str
    degrees: float
    stretch: float
    depth_mm: float
    rotations: dict[str, list[float]]


class WearIn(BaseModel):
    """The wearers to wear the outfit on; all of the cast if left out."""

    model_config = ConfigDict(extra="forbid")
    wearers: list[int] | None = Field(default=None, max_length=500)


class WearRowOut(Out):
    """One piece on one wearer: done, mended, or needs the artist; the share of it under the skin before and after."""

    piece: int
    piece_name: str
    wearer: int
    wearer_name: str
    state: Literal["waiting", "done", "mended", "needs"]
    under_before: float | None
    under_after: float | None
    why: str


class WearOut(Out):
    """A run of wearing the outfit on."""

    id: int
    state: Literal["running", "done", "cancelled"]
    rows: list[WearRowOut]
