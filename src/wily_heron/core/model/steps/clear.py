"""The alterations of the clear step: clearing cells, hiding what is covered, correctives made by hand."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from .alteration import Alteration, Cell
from .hand import Stroke

Loose = Literal["falls", "eased"]


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
