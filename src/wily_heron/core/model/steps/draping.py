"""The drape step as it is kept: what cloth, what holds it, what it moves through."""

from typing import Annotated, Literal

from pydantic import Field

from ..report import Report
from .alteration import Alteration, Altering, Cell, Dab, Vector
from .fabric import FABRICS, Fabric

Frames = Annotated[int, Field(ge=0, le=480)]


class Gather(Altering):
    """A level band of `width` metres about the received row `at`, drawn in to `factor` of its length: an elastic, or a `string` that
    is drawn in during the first half second."""

    at: int = Field(ge=0)
    width: float = Field(default=0.03, ge=0.005, le=0.5)
    factor: float = Field(default=0.7, ge=0.2, le=1.5)
    string: bool = False


class Strap(Altering):
    """Two spots of the cloth, about the received rows `one` and `other`, kept within `length` metres of each other: a strap, a drawstring's
    bow, or with none a button, as near as cloth comes to cloth. From where they are they are drawn there in the first half second."""

    one: int = Field(ge=0)
    other: int = Field(ge=0)
    length: float = Field(default=0.0, ge=0.0, le=2.0)


Stroke = Annotated[tuple[Annotated[int, Field(ge=0)], ...], Field(max_length=400)]


class Stiff(Altering):
    """Cloth that is stiffer (or softer) by `times` in bending and shear within `radius` metres of the received row `at`, and of those
    `along` a stroke, fading at its edge: a collar's interlining, a waxed hem."""

    at: int = Field(ge=0)
    along: Stroke = ()
    radius: float = Field(default=0.06, gt=0.0, le=1.0)
    times: float = Field(default=6.0, ge=0.02, le=100.0)


class Tack(Dab):
    """A spot, or the received rows `along` a stroke, that follows what it is tacked `to`: the wearer, as the piece is worn there; space, so
    that it stays where it was at rest; or what lies under it there, a piece or the skin. `value` is how much of the way it follows in a
    frame, 1 all of it; below nothing it lets go what is worn."""

    along: Stroke = ()
    to: Literal["wearer", "space", "under"] = "wearer"


class Pull(Altering):
    """The pointer's hold on the received row `at`: from frame `start` on it is led through `path` (metres), one place a frame."""

    at: int = Field(ge=0)
    start: int = Field(ge=0)
    path: tuple[Vector, ...] = Field(min_length=1, max_length=480)
    radius: float = Field(default=0.03, gt=0.0, le=0.2)


class AsCloth(Altering):
    """A piece as cloth: its `fabric`, and what holds it. What lies within `held` metres of its top is worn, the rest falls; `tacks` hold
    more of it (1 fast, less lets it lag), `gathers` draw bands of it in, `straps` keep spots of it together, parts are `stiff`; `pressure`
    (N/m2) pads it out from within; the pointer `pulls` it."""

    fabric: Fabric = FABRICS["linen"]
    held: float = Field(default=0.04, ge=0.0, le=0.5)
    tacks: tuple[Tack, ...] = ()
    gathers: tuple[Gather, ...] = ()
    straps: tuple[Strap, ...] = Field(default=(), max_length=100)
    stiff: tuple[Stiff, ...] = Field(default=(), max_length=200)
    pressure: float = Field(default=0.0, ge=-2000.0, le=2000.0)
    pulls: tuple[Pull, ...] = ()


class Along(AsCloth):
    """Another piece, stored under the address `piece`, that falls at the same time: worn `outside` this one, or under it. One that does not
    fall is worn between those that do: they meet it, and it follows the wearer."""

    piece: str = Field(min_length=1)
    outside: bool = False
    falls: bool = True


class Drape(AsCloth, Alteration):
    """Let the piece fall as cloth on the wearer and keep the last frame.

    It rests for `settle` frames on the wearer at rest, goes smoothly into the pose of `cell` in `move` frames and hangs there for
    `hang`, 24 frames to the second, each in `substeps`; or it comes in `move` frames into a `motion` of the house and goes through
    it. `start` are shape settings of the wearer it rests on first, cut to them: the wearer changes into those of `cell` in the same
    frames, and the cloth keeps its size. `wind` in m/s, `gust` its swing, 0 to 1. `over` are the addresses of the pieces it falls on,
    from the innermost out, `along` those that fall with it, all from the innermost out. Skin that any of them hides holds the cloth up all
    the same, unless it falls `past_hidden` skin. Made `finer`, a frame takes up to three times as many substeps while the cloth is taut or
    pressed together. The frame `until` is kept, the last if not said:
    `keep` rest changes its shape for good, pose keeps a corrective for the pose.
    """

    kind: Literal["drape"] = "drape"
    cell: Cell = Cell()
    start: dict[str, float] | None = None
    motion: str = Field(default="", max_length=60)
    settle: Frames = 24
    move: Frames = 24
    hang: Frames = 24
    substeps: int = Field(default=20, ge=4, le=200)
    finer: bool = True
    wind: Vector = (0.0, 0.0, 0.0)
    gust: float = Field(default=0.0, ge=0.0, le=1.0)
    over: tuple[str, ...] = ()
    along: tuple[Along, ...] = Field(default=(), max_length=12)
    past_hidden: bool = False
    until: int | None = Field(default=None, ge=1, le=1440)
    keep: Literal["rest", "pose"] = "pose"


def steps_beside(step: Drape, address: str) -> list[Drape]:
    """Return the step of each piece that falls along with the one stored under `address`, as `step` is that one's: the same fall."""
    own = Along.model_validate({**{name: getattr(step, name) for name in AsCloth.model_fields}, "piece": address})
    every = [a for a in step.along if not a.outside] + [own] + [a for a in step.along if a.outside]
    out: list[Drape] = []
    for mine in step.along:
        at = next(k for k, each in enumerate(every) if each is mine)
        others = tuple(each.model_copy(update={"outside": k > at}) for k, each in enumerate(every) if k != at)
        how = {name: getattr(mine, name) for name in AsCloth.model_fields}
        out.append(step.model_copy(update={**how, "along": others}))
    return out


class DrapeReport(Report):
    """What one drape came to: strain as a share, the speed of the fastest hundredth (m/s), how much of the set stiffness showed,
    and how much lower (m) the piece lies, by the mean of its vertices, than it is worn."""

    key, several = "drape", True
    frames: int
    vertices: int
    fabric: str
    strain_mean: float
    strain_99: float
    speed: float
    bending_met: float
    shear_met: float
    sunk: float | None = None
