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


class Strap(Altering):
    """Two spots of the cloth, about the received rows `one` and `other`, kept within `length` metres of each other: a strap, a drawstring's
    bow, or with none a button, as near as cloth comes to cloth. From where they are they are drawn there in the first half second."""

    one: int = Field(ge=0)
    other: int = Field(ge=0)
    length: float = Field(default=0.0, ge=0.0, le=2.0)


class Stiff(Altering):
    """Cloth that is stiffer (or softer) by `times` in bending and shear within `radius` metres of the received row `at`, fading at its
    edge: a collar's interlining, a waxed hem."""

    at: int = Field(ge=0)
    radius: float = Field(default=0.06, gt=0.0, le=1.0)
    times: float = Field(default=6.0, ge=0.02, le=100.0)


class Pull(Altering):
    """The pointer's hold on the received row `at`: from frame `start` on it is led through `path` (metres), one place a frame."""

    at: int = Field(ge=0)
    start: int = Field(ge=0)
    path: tuple[Vector, ...] = Field(min_length=1, max_length=480)
    radius: float = Field(default=0.03, gt=0.0, le=0.2)


class Drape(Altering):
    """Let the piece fall as cloth on the wearer and keep the last frame.

    It rests for `settle` frames on the wearer at rest, goes smoothly into the pose of `cell` in `move` frames and hangs there for
    `hang`, 24 frames to the second, each in `substeps`; or it comes in `move` frames into a `motion` of the house and goes through
    it. What lies within `held` metres of its top is worn, the rest falls; `tacks` hold more of it (1 fast, less lets it lag) or
    with a value below nothing let it go, `straps` keep spots of it together, and parts are `stiff`. `wind` in m/s, `gust` its
    swing, 0 to 1. `over` are the addresses of the pieces it falls on, from the innermost out. The frame `until` is kept, the last
    if not said: `keep` rest changes its shape for good, pose keeps a corrective for the pose.
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
    straps: tuple[Strap, ...] = Field(default=(), max_length=100)
    stiff: tuple[Stiff, ...] = Field(default=(), max_length=200)
    pulls: tuple[Pull, ...] = ()
    wind: Vector = (0.0, 0.0, 0.0)
    gust: float = Field(default=0.0, ge=0.0, le=1.0)
    over: tuple[str, ...] = ()
    until: int | None = Field(default=None, ge=1, le=1440)
    keep: Literal["rest", "pose"] = "pose"
