"""Where a piece comes from, on the wire."""

from pydantic import BaseModel

from ...wire import Out


class CandidateOut(Out):
    """A body a piece may have been made for: where it lies from its skin, and its joints from that body's (mm)."""

    name: str
    body: str
    shape: dict[str, float]
    skin_mm: float
    inside: float
    joints_mm: float | None
    warning: str | None


class OverIn(BaseModel):
    """The wearer a piece is brought over to."""

    wearer: int


class LinkedOut(Out):
    """Which textures were found again, and which are still missing."""

    linked: list[str]
    missing: list[str]
