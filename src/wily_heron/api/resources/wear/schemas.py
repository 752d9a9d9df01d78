"""Wearing on other wearers, on the wire."""

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from ....studio.rail.wearing import Run
from ...wire import Out


class WearIn(BaseModel):
    """The wearers to wear the outfit on; all of the cast if left out."""

    model_config = ConfigDict(extra="forbid")
    wearers: list[int] | None = Field(default=None, max_length=500)


class WearRowOut(Out):
    """One piece on one wearer: done, mended, or needs the artist; the share of it under the skin before and after."""

    piece: int
    piece_name: str
    wearer: int
    wearer_name: str
    state: Literal["waiting", "done", "mended", "needs"]
    under_before: float | None
    under_after: float | None
    why: str


class WearOut(Out):
    """A run of wearing the outfit on."""

    id: int
    state: Literal["running", "done", "cancelled"]
    rows: list[WearRowOut]

    @classmethod
    def of(cls, found: Run) -> "WearOut":
        """Return a run with its rows."""
        run, rows = found
        return cls(id=run.id, state=run.state, rows=[WearRowOut.of(row) for row in rows])
