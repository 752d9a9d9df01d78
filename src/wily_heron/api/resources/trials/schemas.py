"""Runs of the trial sheet on the wire."""

from datetime import datetime
from typing import Literal

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
    """A run of the trial sheet. `stale` when the outfit has changed since."""

    id: int
    state: Literal["running", "done", "cancelled"]
    total: int
    done: int
    seconds: float
    started_at: datetime
    stale: bool
    cells: list[TrialCellOut]

    @classmethod
    def of(cls, found: Sheet) -> "TrialOut":
        """Return a run with its cells, each with whether it is stale."""
        trial = found.trial
        return cls(id=trial.id, state=trial.state, total=trial.total, done=trial.done, seconds=trial.seconds,
                   started_at=trial.started_at, stale=bool(found.stale), cells=_cells(found))


def _cells(found: Sheet) -> list[TrialCellOut]:
    return [TrialCellOut.of(c).model_copy(update={"stale": c.key in found.stale}) for c in found.cells]


class TrialBriefOut(Out):
    """A run of the sheet in one line, to compare with."""

    id: int
    state: str
    total: int
    holding: int
    started_at: datetime
