"""The alterations that bring a piece in: received, and placed on the wearer."""

from typing import Annotated, Literal

from pydantic import Field

from ..report import Found, Report
from .alteration import Alteration, Altering, Vector

Unit = Literal["auto", "m", "cm", "mm", "in", "ft", "dm"]
UpAxis = Literal["auto", "y", "z"]
Factor = Annotated[float, Field(gt=0.01, lt=100.0)]


class MadeFor(Altering):
    """A body a piece was made for: its name, its address ("" for the house's figure) and its shape settings."""

    name: str = Field(max_length=80)
    body: str = ""
    shape: dict[str, float] = Field(default_factory=dict)


class Receive(Alteration):
    """Put unit and axes right, `auto` by how the piece lies on a body in each, its size and its joints; do the accepted `mends` (all if
    not said).

    `made_for` is the body it was made for, as the artist says, or None where it is not known.
    """

    kind: Literal["receive"] = "receive"
    unit: Unit = "auto"
    up: UpAxis = "auto"
    hand: Literal["auto", "right", "left"] = "auto"
    facing: Literal["auto", "front", "back"] = "auto"
    mends: tuple[str, ...] | None = None
    made_for: MadeFor | None = None


class Place(Alteration):
    """Move (metres), turn (radians about x, then y, then z) and scale the piece about its middle, all of it and along each axis;
    `mirror` changes its left and right first."""

    kind: Literal["place"] = "place"
    move: Vector = (0.0, 0.0, 0.0)
    turn: Vector = (0.0, 0.0, 0.0)
    scale: float = Field(default=1.0, gt=0.001, lt=1000.0)
    stretch: tuple[Factor, Factor, Factor] = (1.0, 1.0, 1.0)
    mirror: bool = False


class Finding(Found):
    """One thing receiving found: its kind, how many, in words, what would mend it (None if no program can) and whether it was mended."""

    kind: str
    count: int
    text: str
    mend: str | None = None
    mended: bool = False


class ReceiveReport(Report):
    """What receiving found."""

    key = "receive"
    unit: str
    unit_word: str
    unit_why: str
    up: str
    up_why: str
    size: list[float]
    vertices: int
    triangles: int
    polygons: int
    parts: int
    largest_part: int
    materials: list[str]
    open_edges: int
    non_manifold_edges: int
    has_uv: bool
    findings: list[Finding]
    category: str
    category_sure: float
    category_why: str
    symmetric: float
    beside_wearer: float
    hand: str = "right"
    facing: str = "front"
    stance_why: str = ""
    textures: list[str] = Field(default_factory=list)
    missing_textures: list[str] = Field(default_factory=list)
    joints: int = 0
    morphs: list[str] = Field(default_factory=list)
    clips: list[str] = Field(default_factory=list)
