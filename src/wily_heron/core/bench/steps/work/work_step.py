"""How an alteration of the work step is declared."""

from collections.abc import Callable, Mapping
from typing import Any

from ....model.state import Piece
from ....model.steps.alteration import Alteration
from ....model.steps.work import WorkReport
from ...step import BenchStep, Context


def work_step(model: type[Alteration], run: Callable[[Piece, Context, Any], tuple[Piece, WorkReport]],
              words: Mapping[str, str] | None = None) -> BenchStep:
    """Return a step of the work step's list: made between fitting and binding, as often as the artist likes."""
    return BenchStep(model, (WorkReport,), run, order="work", bench="work", repeats=True, words=words or {})
