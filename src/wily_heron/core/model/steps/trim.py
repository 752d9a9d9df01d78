"""The alteration that cuts: along a plane, a drawn line or a selection."""

from typing import Annotated, Literal

from pydantic import Field

from .alteration import Alteration, Altering, Vector


class Plane(Altering):
    """A cut by the plane through `point` with `normal`: what lies on the normal's side is taken off."""

    by: Literal["plane"] = "plane"
    point: Vector
    normal: Vector


class Curve(Altering):
    """A cut along a line over the surface, through `points` in order (metres, on the rest shape); `closed` joins its ends."""

    by: Literal["curve"] = "curve"
    points: tuple[Vector, ...] = Field(min_length=2, max_length=2000)
    closed: bool = False


class Selection(Altering):
    """What lies within `radius` metres along the surface of any of the received `rows`; its border is smoothed."""

    by: Literal["selection"] = "selection"
    rows: tuple[int, ...] = Field(min_length=1, max_length=20000)
    radius: float = Field(default=0.02, ge=0.0, le=0.5)


class Trim(Alteration):
    """Cut, and take off the part where `off` (a point, metres) lies; without it the cut stays open as a slit.

    `hem` (metres) turns the new border under by that width, `thick` metres thick.
    """

    kind: Literal["trim"] = "trim"
    cut: Annotated[Plane | Curve | Selection, Field(discriminator="by")]
    off: Vector | None = None
    hem: float = Field(default=0.0, ge=0.0, le=0.2)
    thick: float = Field(default=0.0015, ge=0.0002, le=0.02)
