"""The alterations of a piece: small models, one discriminated union, shared by core, API and database."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from .alteration import Altering, Cell, Dab, Vector
from .clear_steps import Clear, Hide
from .draping import Drape
from .finish import Finish

Unit = Literal["auto", "m", "cm", "mm", "in"]
UpAxis = Literal["auto", "y", "z"]
Factor = Annotated[float, Field(gt=0.01, lt=100.0)]
Cells = Annotated[int, Field(ge=2, le=6)]


class MadeFor(Altering):
    """A body a piece was made for: its name, its address ("" for the house's figure) and its shape settings."""

    name: str = Field(max_length=80)
    body: str = ""
    shape: dict[str, float] = Field(default_factory=dict)


class Receive(Altering):
    """Put unit and axes right, `auto` by the piece's size beside a wearer and its joints; do the accepted `mends` (all if not said).

    `made_for` is the body it was made for, as the artist says, or None where it is not known.
    """

    kind: Literal["receive"] = "receive"
    unit: Unit = "auto"
    up: UpAxis = "auto"
    hand: Literal["auto", "right", "left"] = "auto"
    facing: Literal["auto", "front", "back"] = "auto"
    mends: tuple[str, ...] | None = None
    made_for: MadeFor | None = None


class Place(Altering):
    """Move (metres), turn (radians about x, then y, then z) and scale the piece about its middle, all of it and along each axis;
    `mirror` changes its left and right first."""

    kind: Literal["place"] = "place"
    move: Vector = (0.0, 0.0, 0.0)
    turn: Vector = (0.0, 0.0, 0.0)
    scale: float = Field(default=1.0, gt=0.001, lt=1000.0)
    stretch: tuple[Factor, Factor, Factor] = (1.0, 1.0, 1.0)
    mirror: bool = False


class Fit(Altering):
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


class HandDab(Altering):
    """A dab of a hand tool at the received row `at`; pull moves it by `move` (metres)."""

    at: int = Field(ge=0)
    move: Vector = (0.0, 0.0, 0.0)


class Stroke(Altering):
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


class Lattice(Altering):
    """A lattice of `cells` over the box from `low` to `high` (metres), its pulled `knots` x slowest, z fastest."""

    kind: Literal["lattice"] = "lattice"
    low: Vector
    high: Vector
    cells: tuple[Cells, Cells, Cells] = (2, 2, 2)
    knots: tuple[Knot, ...] = Field(default=(), max_length=343)


class Adjust(Altering):
    """Adjusters by name, each usually -1 to 1; `clear` keeps the piece at `ease` metres off what lies under it."""

    kind: Literal["adjust"] = "adjust"
    values: dict[str, Annotated[float, Field(ge=-3.0, le=3.0)]] = Field(default_factory=dict)
    clear: bool = True
    ease: float = Field(default=0.004, ge=0.0, le=0.1)


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


class Trim(Altering):
    """Cut, and take off the part where `off` (a point, metres) lies; without it the cut stays open as a slit.

    `hem` (metres) turns the new border under by that width, `thick` metres thick.
    """

    kind: Literal["trim"] = "trim"
    cut: Annotated[Plane | Curve | Selection, Field(discriminator="by")]
    off: Vector | None = None
    hem: float = Field(default=0.0, ge=0.0, le=0.2)
    thick: float = Field(default=0.0015, ge=0.0002, le=0.02)


class Drop(Altering):
    """Take off loose parts, each named by a received row of it."""

    kind: Literal["drop"] = "drop"
    parts: tuple[int, ...] = Field(min_length=1)


class Thicken(Altering):
    """Give the cloth `thick` metres towards the body, borders closed."""

    kind: Literal["thicken"] = "thicken"
    thick: float = Field(default=0.002, gt=0.0001, le=0.05)


class Refine(Altering):
    """Finer faces: everywhere, or only where the body under them bends and they are longer than `longest` metres."""

    kind: Literal["refine"] = "refine"
    where: Literal["joints", "all"] = "joints"
    longest: float = Field(default=0.012, ge=0.001, le=0.2)


class Smooth(Altering):
    """Even the cloth out, borders kept; `amount` 0 to 1."""

    kind: Literal["smooth"] = "smooth"
    amount: float = Field(default=0.5, gt=0.0, le=1.0)


class MirrorHalf(Altering):
    """Replace the half that is not `keep` by the mirror image of the one that is."""

    kind: Literal["mirror"] = "mirror"
    keep: Literal["left", "right"] = "left"


class SpringOf(Altering):
    """How what is carried swings: in `links` of even length, pulled back by `stiffness` (1/s2), slowed by `damping` (1/s), drawn down by
    `gravity` (1 is the earth's), at most to `limit` (radians)."""

    links: int = Field(default=1, ge=1, le=6)
    stiffness: float = Field(default=20.0, ge=0.0, le=2000.0)
    damping: float = Field(default=4.0, ge=0.0, le=200.0)
    gravity: float = Field(default=1.0, ge=0.0, le=5.0)
    limit: float = Field(default=1.4, gt=0.0, le=3.1)


class Bind(Altering):
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


class Weigh(Altering):
    """A stroke of the weight brush: `joint` gains (add), loses (take) or goes half-way to `other` (share) within `radius` metres along the
    surface; blend draws weights to the mean about them, iron evens out all joints; flood does it to a whole region of the body.

    What `joint` gains the rest lose in proportion, those in `locks` nothing; with `other` the two share between themselves.
    """

    kind: Literal["weigh"] = "weigh"
    tool: Literal["add", "take", "blend", "iron", "share", "flood"]
    joint: str
    other: str = ""
    radius: float = Field(default=0.05, gt=0.002, le=0.6)
    strength: float = Field(default=0.3, gt=0.0, le=1.0)
    mirror: bool = False
    locks: tuple[str, ...] = ()
    region: str = ""
    dabs: tuple[int, ...] = Field(default=(), max_length=4000)


class MendWeights(Altering):
    """Put right what checking the weights found: all of the `kinds`, or only at the received `rows`."""

    kind: Literal["mend"] = "mend"
    kinds: tuple[Literal["stray", "unweighted", "jump", "leak", "far"], ...] = Field(min_length=1)
    rows: tuple[int, ...] = ()


class Follow(Altering):
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


class Fix(Altering):
    """A corrective made by hand in a pose: `strokes` on the posed piece, adjusters at `values`; it comes in with the pose of `cell`."""

    kind: Literal["fix"] = "fix"
    cell: Cell
    strokes: tuple[Stroke, ...] = ()
    values: dict[str, Annotated[float, Field(ge=-3.0, le=3.0)]] = Field(default_factory=dict)


Work = Stroke | Lattice | Adjust | Trim | Drop | Thicken | Refine | Smooth | MirrorHalf
_Step = Receive | Place | Fit | Work | Bind | Weigh | MendWeights | Follow | Clear | Fix | Hide | Drape
Alteration = Annotated[_Step, Field(discriminator="kind")]
ORDER = ("receive", "place", "fit", "work", "bind", "weigh", "follow", "clear")
WORK = ("stroke", "lattice", "adjust", "trim", "drop", "thicken", "refine", "smooth", "mirror")
"""Alterations made at the work step, in the order the artist makes them, as often as she likes."""
_AT = {**dict.fromkeys(WORK, "work"), "mend": "weigh", "fix": "clear", "hide": "clear", "drape": "clear"}
AGAIN = ("work", "weigh", "clear")
"""Steps that may be made more than once."""


def place_in_order(kind: str) -> int:
    """Return where a kind of alteration stands in the working order."""
    return ORDER.index(_AT.get(kind, kind))


class Recipe(BaseModel):
    """What has been done to a piece, in working order; the wearer it is made on is part of the recipe.

    `body` is the address of a body of one's own, "" for the house's figure. `finish` is done to what the steps made, for the picture and
    the pack; no step sees it.
    """

    model_config = ConfigDict(extra="forbid")
    body: str = ""
    made_on: dict[str, float] = Field(default_factory=dict)
    steps: tuple[Alteration, ...] = ()
    finish: Finish | None = None
