"""Hiding by hand, on the wire."""

from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from ....studio.rail.hiding import Hidden, Line
from ...wire import Out
from ..cells.schemas import CellIn

_Screen = Annotated[float, Field(ge=-4.0, le=4.0)]
_Number = Annotated[float, Field(allow_inf_nan=False)]


class LassoIn(BaseModel):
    """A line drawn on the stage round what is to be hidden, or brought back, in a cell: `clip` is the camera's matrix (row by row), the
    `outline` in normalised device coordinates; `of` says whether the skin under the piece is meant or the piece itself."""

    model_config = ConfigDict(extra="forbid")
    cell: CellIn
    of: Literal["skin", "cloth"] = "skin"
    how: Literal["hide", "show"] = "hide"
    clip: Annotated[list[_Number], Field(min_length=16, max_length=16)]
    outline: Annotated[list[tuple[_Screen, _Screen]], Field(min_length=3, max_length=2000)]

    def line(self) -> Line:
        """Return the line as it is looked for on the stage."""
        return Line(np.array(self.clip).reshape(4, 4), np.array(self.outline), self.of, self.how)


class OpenCellOut(Out):
    """A cell in which what is left out can be missed."""

    wearer: str
    pose: str
    area_cm2: float


class LassoOut(Out):
    """What would be left out altogether, and how much of that is new; the cells tried, and those in which a hole would open.

    `safe` are those of the faces that can be missed in none of the cells, `count` how many faces there are in all.
    """

    faces: list[int]
    safe: list[int]
    count: int
    added: int
    cells: int
    open: list[OpenCellOut]

    @classmethod
    def of(cls, found: Hidden) -> "LassoOut":
        """Return what a line would leave out."""
        return cls(faces=found.faces.tolist(), safe=found.safe.tolist(), count=found.count, added=found.added, cells=found.cells,
                   open=[OpenCellOut(wearer=who, pose=pose, area_cm2=area) for who, pose, area in found.open])
