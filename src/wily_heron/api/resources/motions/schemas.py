"""Motions on the wire."""

from pydantic import BaseModel, ConfigDict, Field


class SheetMotionIn(BaseModel):
    """A motion on the trial sheet, or off it."""

    model_config = ConfigDict(extra="forbid")
    motion: str = Field(max_length=60)
    there: bool = True
