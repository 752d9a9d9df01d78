"""The jobs that use-cases ask for: their names, how urgent each is, and what it is told."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from ..store.productions.shots import ShotRow
from ..store.sheet.trials import Worn


@dataclass(frozen=True)
class Work:
    """A job to be asked for once what it is about is committed; a greater priority goes first."""

    task: str
    priority: int
    values: dict[str, Any]


Order = Literal["given", "layers"]
"""How pieces are put on that came together: in the order given, or by their categories from the skin outwards."""
Ask = Callable[[Work], None]
"""Asks for a job."""


def evaluate(edit: int, priority: int = 10) -> Work:
    """Run the recipe of an edit: the artist waits for it."""
    return Work("evaluate_edit", priority, {"edit": edit})


def evaluate_of_stock(edit: int) -> Work:
    """Run the recipe of a piece whose item of the stock has changed: after what an artist has just done."""
    return evaluate(edit, 9)


def take_apart(apart: int, author: str) -> Work:
    """Take a dressed body apart."""
    return Work("take_apart", 8, {"apart": apart, "author": author})


def plan(plan: int) -> Work:
    """Make a plan."""
    return Work("plan_sheet", 8, {"plan": plan})


def dress(pieces: Sequence[int], production: int, author: str, order: Order = "given") -> Work:
    """Put on in one go what was just brought in, one after the other: the artist waits for it."""
    return Work("dress_pieces", 10, {"pieces": list(pieces), "production": production, "author": author, "order": order})


def fit_outfit(production: int, outfit: int, body: str, ease: float, author: str) -> Work:
    """Fit what of an outfit is made on a body, from the skin outwards."""
    return Work("fit_outfit", 8, {"production": production, "outfit": outfit, "body": body, "ease": ease, "author": author})


def wear(run: int, piece: int, wearer: int, author: str) -> Work:
    """Look at one piece on one wearer."""
    return Work("wear_piece", 6, {"run_id": run, "piece": piece, "wearer": wearer, "author": author})


def take_in(row: int) -> Work:
    """Take one file of a batch into stock."""
    return Work("take_in_file", 5, {"row": row})


def bake(bake: int) -> Work:
    """Bake what is left of a list of poses."""
    return Work("bake_drapes", 4, {"bake": bake})


def draw(item: int) -> Work:
    """Draw the views of an item in stock."""
    return Work("draw_strip", 1, {"item": item})


def measure(trial: int, wearer: int, columns: Sequence[str], worn: Worn, shots: Sequence[ShotRow], automatic: bool = False) -> Work:
    """Measure some columns of a wearer's row of the sheet; a run that began by itself after all that artists have asked for."""
    rows = [shot.model_dump(mode="json") for shot in shots]
    values = {"trial": trial, "wearer": wearer, "columns": list(columns), "pieces": worn, "shots": rows}
    return Work("measure_wearer", -1 if automatic else 0, values)


def explain(trial: int, wearer: int, worn: Worn) -> Work:
    """Find the causes of a wearer's failing cells."""
    return Work("explain_wearer", 0, {"trial": trial, "wearer": wearer, "pieces": worn})


def hunt(hunt: int, part: int) -> Work:
    """Measure what is left of a part of a hunt."""
    return Work("hunt_part", 0, {"hunt": hunt, "part": part})
