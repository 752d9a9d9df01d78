"""A layout: the flat panels of a garment, what is sewn to what, and where each is laid round the body."""

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..errors import InputError
from ..model.steps.alteration import Altering

Length = Annotated[float, Field(ge=-6.0, le=6.0)]
Spot = tuple[Length, Length]
Name = Annotated[str, Field(min_length=1, max_length=60)]
Part = Literal["torso", "arm", "leg", "side of the head", "shoulders"]


class Corner(Altering):
    """A corner of an outline at `at` (metres, y up) and the edge from it to the next: straight, or a cubic curve by its two `bend`
    points."""

    at: Spot
    bend: tuple[Spot, Spot] | None = None


class Round(Altering):
    """Where a panel is laid: round which `part` of the body, on its front or back, lifted by `raised` and moved aside by `aside`
    metres."""

    part: Part = "torso"
    face: Literal["front", "back"] = "front"
    raised: Length = 0.0
    aside: Length = 0.0


class Panel(Altering):
    """A flat piece of cloth. x runs to the wearer's left, y up: on the torso and legs y is the height above the floor, on an arm how far
    it is from the shoulder, below nothing.

    `half` says what the outline is of: a `fold` is drawn for x >= 0 and laid open at x = 0, a `pair` is the left one of two, a `single`
    is all there is. `grain` is the angle (degrees) of the warp from y; `notches` lie on an edge at a share of its length; `lines` are
    drawn inside, by their points: where a pocket goes, a fold is pressed. `spot` is where its own (0, 0) lies on the table.
    """

    name: Name
    outline: tuple[Corner, ...] = Field(min_length=3, max_length=200)
    half: Literal["fold", "pair", "single"] = "single"
    laid: Round = Round()
    grain: float = Field(default=0.0, ge=-180.0, le=180.0)
    notches: tuple[tuple[int, Annotated[float, Field(ge=0.0, le=1.0)]], ...] = ()
    lines: tuple[Annotated[tuple[Spot, ...], Field(min_length=2, max_length=200)], ...] = Field(default=(), max_length=100)
    spot: Spot = (0.0, 0.0)

    @model_validator(mode="after")
    def _drawn_whole(self) -> "Panel":
        if self.half == "fold" and min(c.at[0] for c in self.outline) < -1e-6:
            raise ValueError(f"'{self.name}' is cut on the fold: draw its half to the right of the fold line")
        if any(not 0 <= edge < len(self.outline) for edge, _ in self.notches):
            raise ValueError(f"a notch of '{self.name}' lies on an edge it does not have")
        return self

    def on_fold(self, edge: int) -> bool:
        """Whether an edge is the fold line itself."""
        a, b = self.outline[edge], self.outline[(edge + 1) % len(self.outline)]
        return self.half == "fold" and a.bend is None and abs(a.at[0]) < 1e-6 and abs(b.at[0]) < 1e-6


class Side(Altering):
    """An edge of a panel: the one that starts at corner `edge`; `other` is the mirrored one of a fold or a pair."""

    panel: Name
    edge: int = Field(ge=0)
    other: bool = False


class Seam(Altering):
    """Two edges that are sewn together, the longer eased into the shorter; `turned` sews the start of one to the start of the other.
    Where both panels have a mirrored half, that is sewn alike."""

    one: Side
    two: Side
    turned: bool = False


class Layout(Altering):
    """The panels of a garment and their seams; `fast` edges stay where they come to lie while the rest falls: a waistband, a collar.
    `block` and `made` say what it was begun from: the block's name and its settings in metres."""

    panels: tuple[Panel, ...] = Field(default=(), max_length=60)
    seams: tuple[Seam, ...] = Field(default=(), max_length=300)
    fast: tuple[Side, ...] = ()
    block: str = Field(default="", max_length=40)
    made: dict[str, float] = Field(default_factory=dict)

    @model_validator(mode="after")
    def _of_its_own(self) -> "Layout":
        names = [p.name for p in self.panels]
        if len(set(names)) < len(names):
            raise ValueError("two panels have the same name")
        for side in (*(s for seam in self.seams for s in (seam.one, seam.two)), *self.fast):
            if side.panel not in names:
                raise ValueError(f"a seam asks for a panel '{side.panel}' that is not there")
            panel = self.panel(side.panel)
            if side.edge >= len(panel.outline):
                raise ValueError(f"'{panel.name}' has no edge {side.edge + 1}")
            if side.other and panel.half == "single":
                raise ValueError(f"'{panel.name}' has no mirrored half")
            if panel.on_fold(side.edge):
                raise ValueError(f"edge {side.edge + 1} of '{panel.name}' is its fold line and cannot be sewn")
        return self

    def panel(self, name: str) -> Panel:
        """Return a panel by name; raises `InputError` for one that is not there."""
        for panel in self.panels:
            if panel.name == name:
                return panel
        raise InputError(what=f"there is no panel '{name}'", where="the cutting table", todo="It may have been taken away.")


def anew(before: Sequence[Panel], title: str, outline: tuple[Corner, ...]) -> Panel:
    """Return a panel of an outline, called by a title as none of those before it is.

    >>> corners = tuple(Corner(at=at) for at in ((0, 0), (0.2, 0), (0.2, 0.3)))
    >>> first = anew((), "Pocket", corners)
    >>> first.name, anew((first,), "Pocket", corners).name
    ('Pocket', 'Pocket 2')
    """
    names, name, k = {p.name for p in before}, title[:50], 2
    while name in names:
        name, k = f"{title[:50]} {k}", k + 1
    return Panel(name=name, outline=outline)
