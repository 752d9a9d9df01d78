"""The alterations made by hand: strokes of a tool, and a lattice about the piece."""

from typing import Annotated, Literal

from pydantic import Field

from .alteration import Alteration, Altering, Vector

Cells = Annotated[int, Field(ge=2, le=6)]


class HandDab(Altering):
    """A dab of a hand tool at the received row `at`; pull moves it by `move` (metres)."""

    at: int = Field(ge=0)
    move: Vector = (0.0, 0.0, 0.0)


class Stroke(Alteration):
    """One stroke of a hand tool: `radius` metres along the surface, `strength` 0 to 1, mirrored left to right if asked.

    Press brings the cloth to `offset` metres off what lies under it; an elastic pull takes along more of the cloth. Protect and
    release paint the mask that holds later strokes back.
    """

    kind: Literal["stroke"] = "stroke"
    tool: Literal["pull", "press", "puff", "iron", "protect", "release"]
    radius: float = Field(default=0.06, gt=0.002, le=0.6)
    strength: float = Field(default=1.0, gt=0.0, le=1.0)
    mirror: bool = False
    elastic: bool = False
    offset: float = Field(default=0.004, ge=0.0, le=0.1)
    dabs: tuple[HandDab, ...] = Field(max_length=4000)


class Knot(Altering):
    """A knot of a lattice and how far it is pulled (metres)."""

    at: int = Field(ge=0)
    move: Vector


class Lattice(Alteration):
    """A lattice of `cells` over the box from `low` to `high` (metres), its pulled `knots` x slowest, z fastest."""

    kind: Literal["lattice"] = "lattice"
    low: Vector
    high: Vector
    cells: tuple[Cells, Cells, Cells] = (2, 2, 2)
    knots: tuple[Knot, ...] = Field(default=(), max_length=343)
