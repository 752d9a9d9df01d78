"""The drape step as it is kept: what cloth, what holds it, what it moves through."""

from typing import Annotated, Literal

from pydantic import Field

from ..drape.fabric import FABRICS, Fabric
from .alteration import Altering, Cell, Dab, Vector

Frames = Annotated[int, Field(ge=0, le=480)]


class Gather(Altering):
    """A level band of `width` metres about the received row `at`, drawn in to `factor` of its length: an elastic or a drawstring."""

    at: int = Field(ge=0)
    width: float = Field(default=0.03, ge=0.005, le=0.5)
    factor: float = Field(default=0.7, ge=0.2, le=1.5)


class Pull(Altering):
    """The pointer's hold on the received row `at`: from frame `start` on it is led through `path` (metres), one place a frame."""

    at: int = Field(ge=0)
    start: int = Field(ge=0)
    path: tuple[Vector, ...] = Field(min_length=1, max_length=480)
    radius: float = Field(default=0.03, gt=0.0, le=0.2)


class Drape(Altering):
    """Let the piece fall as cloth on the wearer and keep the last frame.

    It rests for `settle` frames on the wearer at rest, goes smoothly into the pose of `cell` in `move` frames and hangs there for `hang`,
    24 frames to the second, each in `substeps`; or it comes in `move` frames into a `motion` of the house and goes through it. What lies
    within `held` metres of its top is worn, the rest falls; `tacks` hold more of it (1 fast, less lets it lag) or with a value below
    nothing let it go. `wind` in m/s, `gust` its swing, 0 to 1. `over` are the addresses of the pieces it falls on, from the innermost
    out. The frame `until` is kept, the last if not said: `keep` rest changes its shape for good, pose keeps a corrective for the pose.
    """

    kind: Literal["drape"] = "drape"
    cell: Cell = Cell()
    motion: str = Field(default="", max_length=60)
    fabric: Fabric = FABRICS["linen"]
    settle: Frames = 24
    move: Frames = 24
    hang: Frames = 24
    substeps: int = Field(default=20, ge=4, le=200)
    held: float = Field(default=0.04, ge=0.0, le=0.5)
    tacks: tuple[Dab, ...] = ()
    gathers: tuple[Gather, ...] = ()
    pulls: tuple[Pull, ...] = ()
    wind: Vector = (0.0, 0.0, 0.0)
    gust: float = Field(default=0.0, ge=0.0, le=1.0)
    over: tuple[str, ...] = ()
    until: int | None = Field(default=None, ge=1, le=1440)
    keep: Literal["rest", "pose"] = "pose"
