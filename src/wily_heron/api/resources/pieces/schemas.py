"""Pieces on the wire."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field

from ....core.bench.recipe import Recipe
from ....core.bench.reports import Reports
from ...wire import Category, Out, ProblemOut


class PieceOut(Out):
    """A piece with its standing edit."""

    id: int
    outfit: int
    name: str
    category: str
    rail: int
    file_name: str
    stock: int | None
    colourway: str | None
    origin: str | None
    origin_outfit: str | None
    origin_changed: bool | None
    dressing: bool
    edit: int
    recipe: Recipe
    label: str
    author: str
    made_at: datetime
    status: Literal["waiting", "done", "failed"]
    report: Reports
    error: ProblemOut | None
    geometry: str | None
    finished: str | None
    before: str | None
    thumb: str | None
    undo_label: str | None
    redo_label: str | None


class RecipeIn(BaseModel):
    """A new recipe for a piece, and the edit it was made from."""

    recipe: Recipe
    label: str = Field(min_length=1, max_length=80)
    based_on: int | None = None


class PieceChangeIn(BaseModel):
    """A new name or category for a piece."""

    name: str | None = Field(default=None, min_length=1, max_length=60)
    category: Category | None = None


class CopyIntoIn(BaseModel):
    """The outfit that a copy hangs in."""

    outfit: int


class MoveIn(BaseModel):
    """Which way to move on the rail."""

    outwards: bool
