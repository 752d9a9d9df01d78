"""The alterations of a piece's weights: bound, painted, mended."""

from typing import Literal

from pydantic import Field

from ..report import Found, Report
from .alteration import Alteration, Altering, Vector


class SpringOf(Altering):
    """How what is carried swings: in `links` of even length, pulled back by `stiffness` (1/s2), slowed by `damping` (1/s), drawn down by
    `gravity` (1 is the earth's), at most to `limit` (radians)."""

    links: int = Field(default=1, ge=1, le=6)
    stiffness: float = Field(default=20.0, ge=0.0, le=2000.0)
    damping: float = Field(default=4.0, ge=0.0, le=200.0)
    gravity: float = Field(default=1.0, ge=0.0, le=5.0)
    limit: float = Field(default=1.4, gt=0.0, le=3.1)


class Bind(Alteration):
    """Take skin weights from what lies under: accepted within `reach` (metres) and `angle` (radians), solved elsewhere.

    0.03 suits fitted pieces; 0.10 lets a loose one take from farther off. `source` own keeps the weights that came with it, joint has all
    of it carried by `joint`, on a `spring` if given, hanging from `grip` (metres, its top if not said). `how` nearest takes the nearest
    skin whatever it is, for comparison. `most` joints bear on a vertex. `over` are the addresses of pieces it may take from as well.
    Cloth round both legs shares them over `width` (0 from axis to axis, 1 all round) unless `legs` is off. `worn_as` head keeps to the
    head's joints, sole keeps the sole whole, belt goes with the pelvis. Parts named in `rigid` keep their form, in `cloth` do not; they
    ride a blend of joints by its rotation, or with `alone` the one that bears most. `even` solves weights anew where the cloth would
    stretch more than the skin under it.
    """

    kind: Literal["bind"] = "bind"
    reach: float = Field(default=0.10, gt=0.0, le=0.5)
    angle: float = Field(default=0.61, gt=0.0, le=3.1416)
    source: Literal["body", "own", "joint"] = "body"
    how: Literal["solve", "nearest"] = "solve"
    most: Literal[4, 8] = 4
    over: tuple[str, ...] = ()
    legs: Literal["auto", "off"] = "auto"
    width: float = Field(default=0.1, ge=0.0, le=1.0)
    worn_as: Literal["auto", "cloth", "head", "sole", "belt"] = "auto"
    even: bool = True
    rigid: tuple[int, ...] = ()
    cloth: tuple[int, ...] = ()
    alone: bool = False
    joint: str = ""
    grip: Vector | None = None
    spring: SpringOf | None = None


class Weigh(Alteration):
    """A stroke of the weight brush: `joint` gains (add), loses (take) or goes half-way to `other` (share) within `radius` metres along the
    surface; blend draws weights to the mean about them, iron evens out all joints; fill does it to a whole region of the body.

    What `joint` gains the rest lose in proportion, those in `locks` nothing; with `other` the two share between themselves.
    """

    kind: Literal["weigh"] = "weigh"
    tool: Literal["add", "take", "blend", "iron", "share", "fill"]
    joint: str
    other: str = ""
    radius: float = Field(default=0.05, gt=0.002, le=0.6)
    strength: float = Field(default=0.3, gt=0.0, le=1.0)
    mirror: bool = False
    locks: tuple[str, ...] = ()
    region: str = ""
    dabs: tuple[int, ...] = Field(default=(), max_length=4000)


class MendWeights(Alteration):
    """Put right what checking the weights found: all of the `kinds`, or only at the received `rows`."""

    kind: Literal["mend"] = "mend"
    kinds: tuple[Literal["stray", "unweighted", "jump", "leak", "far"], ...] = Field(min_length=1)
    rows: tuple[int, ...] = ()


class Fault(Found):
    """One kind of fault in the weights, where (vertices), and what would put it right."""

    kind: str
    count: int
    joint: str
    text: str
    mend: str
    rows: list[int]


class BoundPart(Found):
    """A loose part of a bound piece: what it looks like, whether it keeps its form, a vertex of it, and the joint that bears it most."""

    name: str
    rigid: bool
    vertices: int
    size_mm: float
    vertex: int
    joint: str | None


class Legs(Found):
    """What the poses tried do to cloth about the legs by weights alone: the worst stretch, in which `pose`, how deep legs come through."""

    stretch: float
    pose: str
    depth_mm: float


class BindReport(Report):
    """How the weights came about; `hangs` is how many vertices are shared by both legs."""

    key = "bind"
    joints: int
    most: int
    accepted: float
    solved: float
    own: bool = False
    joints_unknown: list[str] = Field(default_factory=list[str])
    how: str = "solve"
    worn_as: str = "cloth"
    hangs: int = 0
    legs: Legs | None = None
    carried_by: str | None = None
    spring: bool = False
    links: int = 0
    length_mm: float = 0.0
    parts: list[BoundPart] = Field(default_factory=list[BoundPart])
    findings: list[Fault] = Field(default_factory=list[Fault])


class WeighReport(Report):
    """What one stroke of the weight brush or one mend did: how many vertices were `touched` or `mended`, and what a mend `left`."""

    key, several = "weigh", True
    kind: Literal["weigh", "mend"]
    tool: str | None = None
    joint: str | None = None
    touched: int | None = None
    mended: int | None = None
    left: int | None = None
