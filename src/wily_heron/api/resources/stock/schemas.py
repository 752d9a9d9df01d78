"""The stockroom on the wire."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field

from ....store.stock.order import Cloth
from ....studio.stock.keeping import Found
from ...wire import Category, Out
from ..order.schemas import BundleOut, ShelfOut

Kind = Literal["piece", "body", "pose", "motion", "fabric", "texture", "extra"]


class StockItemOut(Out):
    """A card of the stock; `strip` is a picture of eight views side by side, `content` what its kind holds besides."""

    id: int
    kind: Kind
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
    used_by: list[str]
    made_for: str | None
    shelf_id: int | None
    version: int
    content: dict
    added_by: str
    added_at: datetime


class CountOut(Out):
    """A word and how often it occurs."""

    name: str
    count: int


class StockOut(Out):
    """What a search of the stock found, and the order of all of it."""

    items: list[StockItemOut]
    total: int
    categories: list[CountOut]
    kinds: list[CountOut]
    tags: list[CountOut]
    shelves: list[ShelfOut]
    bundles: list[BundleOut]

    @classmethod
    def of(cls, found: Found) -> "StockOut":
        """Return what a search found."""
        return cls(items=[StockItemOut.of(item) for item in found.items], total=found.total,
                   categories=[CountOut.of(c) for c in found.categories], kinds=[CountOut.of(c) for c in found.kinds],
                   tags=[CountOut.of(c) for c in found.tags], shelves=[ShelfOut.of(s) for s in found.shelves],
                   bundles=[BundleOut.of(b) for b in found.bundles])


class SearchIn(BaseModel):
    """What a search looks for: words, and what the cards must be. `fits` is a wearer: pieces made for that wearer's body, of a size that
    can be worn on it; `used_in` a production whose pieces come from it."""

    q: str = Field(default="", max_length=120)
    category: str | None = None
    kind: str | None = None
    tag: str | None = None
    shelf: int | None = None
    fits: int | None = None
    used_in: int | None = None
    favourites: bool = False
    retired: bool = False
    sort: Literal["newest", "name", "size"] = "newest"
    limit: int = Field(default=60, ge=1, le=200)
    offset: int = Field(default=0, ge=0)


class CardIn(BaseModel):
    """What to write on a card; what is left out stays."""

    name: str | None = Field(default=None, min_length=1, max_length=60)
    category: Category | None = None
    tags: list[str] | None = Field(default=None, max_length=20)
    note: str | None = Field(default=None, max_length=2000)
    origin: str | None = Field(default=None, max_length=200)
    licence: str | None = Field(default=None, max_length=200)
    favourite: bool | None = None


class ManyIn(BaseModel):
    """What to do with many items at once; what is left out stays."""

    items: list[int] = Field(min_length=1, max_length=1000)
    shelf: int | None = None
    off_shelf: bool = False
    tag: str | None = Field(default=None, min_length=1, max_length=40)
    retired: bool | None = None


class FabricIn(BaseModel):
    """A fabric to be made: linear base colour, roughness, metalness, and a texture in stock it tints."""

    name: str = Field(min_length=1, max_length=60)
    colour: tuple[float, float, float] = (1.0, 1.0, 1.0)
    roughness: float = Field(default=0.85, ge=0, le=1)
    metal: float = Field(default=0.0, ge=0, le=1)
    texture: int | None = None

    def cloth(self) -> Cloth:
        """Return it without its texture."""
        return Cloth(colour=self.colour, roughness=self.roughness, metal=self.metal)


class DressIn(BaseModel):
    """For whom a piece is put on the rail (the first of the cast if not said), in which colourway, and whether it is placed, fitted and
    bound at once."""

    wearer: int | None = None
    colourway: str | None = None
    at_once: bool = False


class DressBundleIn(DressIn):
    """How a bundle is put on: over what is worn, or `instead` of it as an outfit of its own."""

    instead: bool = False


class UsedOut(Out):
    """What using an item of the stock has done: its kind and what to look at now."""

    kind: Kind
    piece: int | None = None
    wearer: int | None = None
    pose: str | None = None
    motion: str | None = None
    said: str


class ReplacedOut(Out):
    """A newer version has come: which, and how many pieces run their recipes on it again."""

    version: int
    pieces: list[int]
