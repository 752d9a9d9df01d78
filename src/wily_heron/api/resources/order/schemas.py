"""The order of the stock on the wire: shelves, colourways, bundles and batches."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field

from ....store.stock.order import Cloth
from ....studio.stock.taking_in import Batch
from ...wire import Out


class ShelfOut(Out):
    """A shelf, the one it stands in, and how much stands on it itself."""

    id: int
    parent: int | None
    name: str
    count: int


class ShelfIn(BaseModel):
    """A shelf's name and the shelf it stands in."""

    name: str | None = Field(default=None, min_length=1, max_length=60)
    parent: int | None = None


class BundleOut(Out):
    """Pieces that belong together, from the skin outwards."""

    id: int
    name: str
    items: list[int]
    names: list[str]
    added_by: str


class BundleIn(BaseModel):
    """Pieces that belong together, from the skin outwards."""

    name: str = Field(min_length=1, max_length=60)
    items: list[int] = Field(min_length=1, max_length=40)


class ColourwayOut(Out):
    """A named set of materials, by material name."""

    name: str
    materials: dict[str, Cloth]


class ColourwaysOut(Out):
    """The materials a piece has as it came, and its colourways."""

    own: dict[str, Cloth]
    colourways: list[ColourwayOut]


class ColourwayIn(BaseModel):
    """The materials of a colourway by material name; those left out stay as they came."""

    materials: dict[str, Cloth] = Field(max_length=64)


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

    @classmethod
    def of(cls, found: Batch) -> "BatchOut":
        """Return a batch with its rows."""
        batch, rows = found
        return cls(**batch.model_dump(), rows=[BatchRowOut.of(row) for row in rows])


class WornColourwayIn(BaseModel):
    """The colourway a piece on the rail is to wear; None: as it came."""

    name: str | None = None
