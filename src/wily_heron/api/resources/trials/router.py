"""Trial sheets: start, follow, cancel, take away."""

from collections.abc import Sequence
from typing import Annotated, Literal, TypeVar

from fastapi import APIRouter, Query, Response
from pydantic import StringConstraints

from ....studio.sheet import explaining, trials
from ....studio.sheet.export import sheet_as
from ...deps import AtDesk, ProductionId
from ...wire import answers, file
from .schemas import ChoiceIn, TrialBriefOut, TrialCellsOut, TrialOut

router = APIRouter(prefix="/api/trials", tags=["trials"])
Hashed = TypeVar("Hashed", int, str)
CellName = Annotated[str, StringConstraints(pattern=r"^\d{1,9}:.{1,80}$")]
_MEDIA = {"csv": "text/csv", "json": "application/json", "png": "image/png"}


@router.post("", status_code=201)
def start(desk: AtDesk, request: ChoiceIn | None = None) -> TrialOut:
    """Measure every wearer in every pose, or those that are chosen; cells known from before are taken over at once."""
    asked = request or ChoiceIn()
    return TrialOut.of(trials.begin(desk, trials.Choice(_all_or(asked.wearers), _all_or(asked.columns), asked.outfit)))


@router.get("")
def runs(production: ProductionId) -> list[TrialBriefOut]:
    """Return the runs of the sheet, newest first, to compare with."""
    return [TrialBriefOut.of(run) for run in trials.runs(production)]


@router.get("/latest")
def latest(production: ProductionId) -> TrialOut | None:
    """Return the newest run with its cells, none if nothing has been measured yet."""
    found = trials.latest(production)
    return TrialOut.of(found) if found else None


@router.get("/{trial}.{kind}", response_class=Response, responses=answers("text/csv", "image/png"))
def export(trial: int, kind: Literal["csv", "json", "png"]) -> Response:
    """Return a run of the sheet as a table (CSV), as data (JSON) or as one picture (PNG)."""
    return file(sheet_as(trial, kind), f"trial-sheet-{trial}.{kind}", _MEDIA[kind])


@router.post("/{trial}/causes", status_code=202)
def explain_all(desk: AtDesk, trial: int) -> TrialOut:
    """Ask for the cause of every failing cell of a run; they come in one by one."""
    return TrialOut.of(explaining.explain_all(desk, trial))


@router.get("/{trial}")
def get(trial: int) -> TrialOut:
    """Return a trial with its cells."""
    return TrialOut.of(trials.get(trial))


@router.get("/{trial}/cells")
def some_cells(trial: int, of: Annotated[list[CellName], Query(max_length=400, default_factory=list)]) -> TrialCellsOut:
    """Return some cells of a run, each named as `wearer:pose`, and how far the run has come."""
    named = (cell.split(":", 1) for cell in of)
    return TrialCellsOut.of(trials.cells(trial, [(int(wearer), pose) for wearer, pose in named]))


@router.delete("/{trial}")
def cancel(trial: int) -> TrialOut:
    """Stop a running trial; what is measured stays."""
    return TrialOut.of(trials.cancel(trial))


def _all_or(chosen: Sequence[Hashed] | None) -> frozenset[Hashed] | None:
    return None if chosen is None else frozenset(chosen)
