"""What goes over the wire of the stockroom."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field

from .schemas import Category, Out


class StockItemOut(Out):
    """A card of the stock; `strip` is a picture of eight views side by side."""

    id: int
    name: str
    category: str
    tags: list[str]
    note: str
    origin: str
    licence: str
    file_name: str
    strip: str | None
    vertices: int
    size_bytes: int
    findings: int
    favourite: bool
    retired: bool
    used: int
    added_by: str
    added_at: datetime


class CountOut(Out):
    """A word and how often it occurs."""

    name: str
    count: int


class StockOut(Out):
    """What a search of the stock found."""

    items: list[StockItemOut]
    total: int
    categories: list[CountOut]
    tags: list[CountOut]


class TakenInOut(Out):
    """What became of one file."""

    file: str
    state: Literal["done", "mended", "needs you", "refused"]
    why: str
    item: int | None


class CardIn(BaseModel):
    """What to write on a card; what is left out stays."""

    name: str | None = Field(default=None, min_length=1, max_length=60)
    category: Category | None = None
    tags: list[str] | None = Field(default=None, max_length=20)
    note: str | None = Field(default=None, max_length=2000)
    favourite: bool | None = None
