"""Runs of the trial sheet on the wire."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from ....core.clearance.figures import Figures
from ....studio.sheet.trials import Sheet
from ...wire import Out


class CellCauseOut(Out):
    """What a failing cell comes from: the piece it shows through, the layer that shows, the kind of cause, and it in words."""

    over: str
    under: str | None = None
    kind: str
    words: str


class TrialCellOut(Out):
    """One cell of a trial; `figures` is null until it is measured, and `stale` once what they were measured of has changed."""

    wearer: int
    pose: str
    figures: Figures | None
    stale: bool = False
    picture: str | None
    error: str | None
    causes: list[CellCauseOut] | None = None


class TrialCellsOut(Out):
    """Some cells of a run, and how far it has come."""

    state: Literal["running", "done", "cancelled"]
    done: int
    seconds: float
    cells: list[TrialCellOut]

    @classmethod
    def of(cls, found: Sheet) -> "TrialCellsOut":
        """Return how far a run has come, with the cells that were asked for."""
        return cls(state=found.trial.state, done=found.trial.done, seconds=found.trial.seconds, cells=_cells(found))


class TrialOut(Out):
    """A run of the trial sheet. `stale` when the outfit has changed since.

    It began by itself after a change, or not; it holds the whole sheet, or what was chosen of it; it is of one outfit on everybody, or of
    what each has on.
    """

    id: int
    state: Literal["running", "done", "cancelled"]
    total: int
    done: int
    seconds: float
    started_at: datetime
    automatic: bool
    whole: bool
    of_outfit: int | None
    stale: bool
    cells: list[TrialCellOut]

    @classmethod
    def of(cls, found: Sheet) -> "TrialOut":
        """Return a run with its cells, each with whether it is stale."""
        trial = found.trial
        return cls(id=trial.id, state=trial.state, total=trial.total, done=trial.done, seconds=trial.seconds,
                   started_at=trial.started_at, automatic=trial.automatic, whole=trial.whole, of_outfit=trial.of_outfit,
                   stale=bool(found.stale), cells=_cells(found))


def _cells(found: Sheet) -> list[TrialCellOut]:
    return [TrialCellOut.of(c).model_copy(update={"stale": c.key in found.stale}) for c in found.cells]


class ChoiceIn(BaseModel):
    """What a run is to hold: rows (wearers) and columns, all where none are named; one outfit on everybody, or what each has on."""

    wearers: list[int] | None = Field(default=None, max_length=2000)
    columns: list[Annotated[str, Field(max_length=120)]] | None = Field(default=None, max_length=2000)
    outfit: int | None = None


class TrialBriefOut(Out):
    """A run of the sheet in one line, to compare with."""

    id: int
    state: str
    total: int
    holding: int
    started_at: datetime
