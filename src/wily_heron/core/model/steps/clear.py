"""The clear step: clearing cells, hiding what is covered, correctives made by hand, and what each of them found."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..report import Found, Report
from .alteration import Alteration, Cell
from .hand import Stroke

Loose = Literal["falls", "eased"]
Keep = Literal["rest", "pose", "shape"]


class Clear(Alteration):
    """Ease the piece out where what lies under it shows through, in each of `cells`, to `ease` metres, keeping its detail.

    `way` in tucks it in under what lies over it instead; skin lets the skin give way under it, and leaves it as it is; outfit clears all
    pieces together, of which this is one piece's part. `keep` rest changes
    its shape for good; pose keeps it as a corrective that comes in with the pose of its cell, shape as one that comes in with the wearer's
    strongest shapes, cleared at rest; best takes whichever of them then shows least in cells it was not made in. For the pose, `loose`
    cloth about the legs falls where it is stretched too far or easing it out does not do. `over` are the addresses of the pieces under it,
    from the innermost out, `outer` of those over it.
    """

    kind: Literal["clear"] = "clear"
    cells: tuple[Cell, ...]
    ease: float = Field(default=0.004, ge=0.0, le=0.05)
    keep: Literal["rest", "pose", "shape", "best"] = "rest"
    way: Literal["out", "in", "skin", "outfit"] = "out"
    loose: Loose = "falls"
    over: tuple[str, ...] = ()
    outer: tuple[str, ...] = ()

    @model_validator(mode="after")
    def _skin_is_not_kept_for_shapes(self) -> "Clear":
        if self.way == "skin" and self.keep in ("shape", "best"):
            raise ValueError("the skin gives way for a pose or for good, not for a shape")
        if self.way == "outfit" and self.keep != "pose":
            raise ValueError("an outfit is cleared together for poses alone")
        return self


class Hide(Alteration):
    """Leave out the skin that the piece covers in every one of `cells` from every side, less a margin of `rings` faces; with `faces`
    given, or `by_hand`, those faces of the body instead, be there none.

    `of` cloth leaves out of the piece itself what the pieces over it cover; faces of its own hold while it has `count` of them.
    """

    kind: Literal["hide"] = "hide"
    of: Literal["skin", "cloth"] = "skin"
    cells: tuple[Cell, ...] = ()
    rings: int = Field(default=2, ge=0, le=8)
    faces: tuple[Annotated[int, Field(ge=0)], ...] = ()
    by_hand: bool = False
    count: int = Field(default=0, ge=0)
    over: tuple[str, ...] = ()
    outer: tuple[str, ...] = ()


class Fix(Alteration):
    """A corrective made by hand in a pose: `strokes` on the posed piece, adjusters at `values`; it comes in with the pose of `cell`."""

    kind: Literal["fix"] = "fix"
    cell: Cell
    strokes: tuple[Stroke, ...] = ()
    values: dict[str, Annotated[float, Field(ge=-3.0, le=3.0)]] = Field(default_factory=dict)


class CellFigures(Found):
    """A cell in three figures."""

    clearance_mm: float
    area_cm2: float
    places: int


class CellClearing(Found):
    """One cell before and after it was cleared; `kept` is false where easing out would have made it worse. Where loose cloth `fell`,
    `stretch` says how many times its length its most stretched edge was before and after."""

    kept: bool
    why: str | None = None
    before: CellFigures | None = None
    after: CellFigures | None = None
    moved: int = 0
    greatest_move: float = 0.0
    fell: bool = False
    stretch: tuple[float, float] | None = None

    def moved_as(self, other: "CellClearing") -> Self:
        """Return it kept and moved as `other` was."""
        return self.model_copy(update={"kept": other.kept, "moved": other.moved, "greatest_move": other.greatest_move})

    def ending(self, after: CellFigures) -> Self:
        """Return it with what the cell shows in the end."""
        return self.model_copy(update={"after": after})


class ClearedCell(CellClearing):
    """The same with the name of its pose."""

    pose: str


class WayKept(Found):
    """One way of keeping a clearing that was tried: what then shows (cm2) in the cells it was made in, and in those it was not."""

    keep: Keep
    here: float
    apart: float


class ClearReport(Report):
    """What one clear step reached; `ways` are those in which it could be kept, the one taken first, where they were tried."""

    key, several = "clear", True
    cells: tuple[ClearedCell, ...]
    cleared: int
    of: int
    ways: tuple[WayKept, ...] = ()


class HideReport(Report):
    """How many faces of the body, or of the piece itself, are left out, and over how many cells they were tried or that it was by hand."""

    key = "hide"
    faces: int
    of: int
    cells: int
    by_hand: bool = False


class LeaveOutReport(HideReport):
    """The same of the piece's own faces."""

    key = "leave_out"


class FixReport(Report):
    """What one corrective made by hand came to (metres)."""

    key, several = "fix", True
    pose: str
    lost: int
    unknown: tuple[str, ...] = ()
    moved: float
