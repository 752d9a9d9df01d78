"""The alteration that gives a piece the shapes of the body."""

from typing import Literal

from pydantic import Field

from ..report import Report
from .alteration import Alteration


class Follow(Alteration):
    """Give the piece every shape of the body; morphs that came with it under a shape's name are kept if `own`.

    `clear` brings each shape alone at full strength to `ease` metres; `pairs` as well those together that break, two and three at once.
    `over` are the addresses of the pieces it is kept off, besides the skin.
    """

    kind: Literal["follow"] = "follow"
    own: bool = True
    clear: bool = True
    pairs: bool = True
    ease: float = Field(default=0.002, ge=0.0, le=0.05)
    over: tuple[str, ...] = ()


class FollowReport(Report):
    """Which shapes the piece carries, how many correctives they needed, and vertices short of their ease before and after."""

    key = "follow"
    shapes: int
    under: float
    own: int = 0
    correctives: int = 0
    short: int = 0
    left: int = 0
