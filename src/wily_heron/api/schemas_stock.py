"""What goes over the wire of the stockroom."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field

from .schemas import Category, Out

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


class ShelfOut(Out):
    """A shelf, the one it stands in, and how much stands on it itself."""

    id: int
    parent: int | None
    name: str
    count: int


class BundleOut(Out):
    """Pieces that belong together, from the skin outwards."""

    id: int
    name: str
    items: list[int]
    names: list[str]
    added_by: str


class StockOut(Out):
    """What a search of the stock found, and the order of all of it."""

    items: list[StockItemOut]
    total: int
    categories: list[CountOut]
    kinds: list[CountOut]
    tags: list[CountOut]
    shelves: list[ShelfOut]
    bundles: list[BundleOut]


class BatchRowOut(Out):
    """What became of one file."""

    id: int
    file_name: str
    state: Literal["waiting", "done", "mended", "needs you", "refused", "cancelled"]
    why: str
    item_id: int | None


class BatchOut(Out):
    """Files taken in together."""

    id: int
    cancelled: bool
    made_at: datetime
    rows: list[BatchRowOut]


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


class ShelfIn(BaseModel):
    """A shelf's name and the shelf it stands in."""

    name: str | None = Field(default=None, min_length=1, max_length=60)
    parent: int | None = None


class BundleIn(BaseModel):
    """Pieces that belong together, from the skin outwards."""

    name: str = Field(min_length=1, max_length=60)
    items: list[int] = Field(min_length=1, max_length=40)


class SurfaceIO(BaseModel):
    """A material of a colourway: linear base colour, roughness, metalness, the address of its texture, the fabric it came from."""

    colour: tuple[float, float, float]
    roughness: float = Field(default=0.8, ge=0, le=1)
    metal: float = Field(default=0.0, ge=0, le=1)
    texture: str | None = None
    fabric: str | None = None


class FabricIn(BaseModel):
    """A fabric to be made: linear base colour, roughness, metalness, and a texture in stock it tints."""

    name: str = Field(min_length=1, max_length=60)
    colour: tuple[float, float, float] = (1.0, 1.0, 1.0)
    roughness: float = Field(default=0.85, ge=0, le=1)
    metal: float = Field(default=0.0, ge=0, le=1)
    texture: int | None = None


class ColourwayOut(Out):
    """A named set of materials, by material name."""

    name: str
    materials: dict[str, SurfaceIO]


class ColourwaysOut(Out):
    """The materials a piece has as it came, and its colourways."""

    own: dict[str, SurfaceIO]
    colourways: list[ColourwayOut]


class ColourwayIn(BaseModel):
    """The materials of a colourway by material name; those left out stay as they came."""

    materials: dict[str, SurfaceIO] = Field(max_length=64)


class DressIn(BaseModel):
    """For whom a piece is put on the rail (the first of the cast if not said), and in which colourway."""

    wearer: int | None = None
    colourway: str | None = None


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
