"""Shots on the wire."""

from pydantic import BaseModel, ConfigDict, Field

from ....core.clearance.find.shots import Shot
from ...wire import Out


class ShotIn(BaseModel):
    """A shot, for every cell or only for a wearer's or a column's of the sheet."""

    model_config = ConfigDict(extra="forbid")
    shot: Shot
    wearer: int | None = None
    pose: str | None = Field(default=None, max_length=120)


class ShotOut(Out):
    """A shot of the production and the cells it shows."""

    id: int
    shot: Shot
    wearer: int | None
    pose: str | None
