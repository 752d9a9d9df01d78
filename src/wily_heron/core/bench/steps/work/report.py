"""What one alteration of the work step did, and how its step is declared."""

from collections.abc import Callable
from typing import Any

from pydantic import Field

from ....model.report import Report
from ....model.state import Piece
from ....model.steps.alteration import Alteration
from ...step import BenchStep, Context


class WorkReport(Report):
    """What one alteration of the work step did."""

    key, several = "work", True
    kind: str
    tool: str | None = None
    touched: int | None = None
    lost: int = 0
    unknown: list[str] = Field(default_factory=list)
    moved: float | None = None
    removed: int | None = None
    slit: bool = False
    cut: int | None = None
    borders: int | None = None
    vertices: int | None = None
    triangles: int | None = None


def work_step(model: type[Alteration], run: Callable[[Piece, Context, Any], tuple[Piece, WorkReport]]) -> BenchStep:
    """Return a step of the work step's list: made between fitting and binding, as often as the artist likes."""
    return BenchStep(model, (WorkReport,), run, order="work", bench="work", repeats=True)
