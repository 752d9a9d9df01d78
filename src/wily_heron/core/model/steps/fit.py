"""The alteration that fits a piece to what lies under it."""

from typing import Literal

from pydantic import Field

from ..report import Found, Report
from .alteration import Alteration, Dab, Vector


class Fit(Alteration):
    """Bring a roughly placed piece to `ease` (metres) on the wearer; `keep` 1 keeps its own shape, 0 clings to the body.

    Where the body it was made for is known, the piece rides from there unless `ride` is off; else, with `align`, from the body it
    looks made on. `pins` are points of the placed piece by the landmark they belong at. `paint` gives parts more or less ease. `over`
    are the addresses of the pieces it rests on. `stiff` parts keep their form: `auto` small islands, `all` the whole piece; `rigid`
    and `cloth` name parts (by a received row of theirs) that are told apart by hand.
    """

    kind: Literal["fit"] = "fit"
    ease: float = Field(default=0.009, ge=0.0, le=0.2)
    keep: float = Field(default=0.9, ge=0.0, le=1.0)
    align: bool = True
    ride: bool = True
    pins: dict[str, Vector] = Field(default_factory=dict)
    paint: tuple[Dab, ...] = ()
    over: tuple[str, ...] = ()
    stiff: Literal["auto", "all"] = "auto"
    rigid: tuple[int, ...] = ()
    cloth: tuple[int, ...] = ()


class Trouble(Found):
    """A region where a piece could not be fitted: how many vertices, how far off the worst (metres), and where (metres)."""

    name: str
    vertices: int
    worst: float
    at: tuple[float, float, float]


class FitReport(Report):
    """What fitting reached (metres); `elsewhere` says what is wrong if the piece does not lie where its category is worn."""

    key = "fit"
    ease: float
    judged: int
    below_ease: int
    resting: int
    resting_mean: float | None
    resting_spread: float | None
    least: float | None
    greatest_move: float
    edge_log_spread: float
    align_move: float
    made_for: str | None = None
    at_ease: float | None = None
    size: float = 1.0
    confidence: float = 1.0
    stance: dict[str, float] = Field(default_factory=dict)
    trouble: list[Trouble] = Field(default_factory=list[Trouble])
    said: list[str] = Field(default_factory=list[str])
    hint: str | None = None
    elsewhere: str | None = None
