"""Working copies on the wire."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field

from ...wire import Out

Since = Literal["same", "changed", "gone"]


class CopyLineOut(Out):
    """A working copy: what it is called, who made it and when, and how much is in it."""

    id: int
    name: str
    automatic: bool
    author: str
    made_at: datetime
    pieces: int
    wearers: int


class PieceThenOut(Out):
    """A piece as it hung then, and what has become of it since."""

    id: int
    name: str
    outfit: int
    outfit_name: str
    label: str
    thumb: str | None
    since: Since


class WearerThenOut(Out):
    """A wearer as they stood then, and what has become of them since."""

    id: int
    name: str
    since: Since


class CopyLookOut(Out):
    """What stood in a working copy, outfit by outfit, the outermost piece first; and the names of pieces that have come since."""

    copy_line: CopyLineOut = Field(validation_alias="copy")
    pieces: list[PieceThenOut]
    wearers: list[WearerThenOut]
    come_since: list[str]


class CopyIn(BaseModel):
    """What to find a working copy by."""

    name: str = Field(min_length=1, max_length=80)
