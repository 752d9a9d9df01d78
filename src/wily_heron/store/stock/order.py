"""The order of the stock: shelves within shelves, colourways and bundles."""

from collections.abc import Mapping, Sequence

from psycopg.types.json import Jsonb
from pydantic import BaseModel, ConfigDict, Field

from ...core.errors import InputError, NotFound
from ..db import Connection, Row, changed, existing, number, numbers, row, rows, run
from ..events import notify


class Cloth(BaseModel):
    """A material of a colourway: linear base colour, roughness, metalness, the address of its texture, the fabric it came from."""

    model_config = ConfigDict(frozen=True)
    colour: tuple[float, float, float]
    roughness: float = Field(default=0.8, ge=0, le=1)
    metal: float = Field(default=0.0, ge=0, le=1)
    texture: str | None = None
    fabric: str | None = None


class ShelfRow(Row):
    """A shelf, the one it stands in, and how much stands on it itself."""

    id: int
    parent: int | None
    name: str
    count: int


class ColourwayRow(Row):
    """A named set of materials, by material name."""

    name: str
    materials: dict[str, Cloth]


class BundleRow(Row):
    """Pieces that belong together, from the skin outwards."""

    id: int
    name: str
    items: list[int]
    names: tuple[str, ...] = ()
    added_by: str = ""


class _Shelf(Row):
    id: int
    name: str


def shelves(connection: Connection) -> list[ShelfRow]:
    """Return every shelf."""
    return rows(connection, ShelfRow, "shelves")


def add_shelf(connection: Connection, name: str, parent: int | None) -> int:
    """Put up a shelf, on its own or in another; raises `InputError` for a name that is there already."""
    if parent is not None:
        _shelf(connection, parent)
    made = numbers(connection, "add_shelf", name=name, parent=parent)
    if not made:
        raise InputError(what=f"there is a shelf '{name}' already", where="the shelves", todo="Choose another name.")
    notify(connection, "stock")
    return made[0]


def change_shelf(connection: Connection, shelf: int, name: str | None, parent: int | None) -> None:
    """Give a shelf another name and place; raises `InputError` if it would stand in itself."""
    now = _shelf(connection, shelf)
    if parent is not None and shelf in numbers(connection, "above_shelf", shelf=parent):
        raise InputError(what="a shelf cannot stand in itself", where=f"the shelf {now.name}", todo="Choose another place.")
    run(connection, "change_shelf", shelf=shelf, name=name or now.name, parent=parent)
    notify(connection, "stock")


def drop_shelf(connection: Connection, shelf: int) -> None:
    """Take a shelf down with those in it; what stood on them stays in stock."""
    _shelf(connection, shelf)
    run(connection, "drop_shelf", shelf=shelf)
    notify(connection, "stock")


def file_away(connection: Connection, items: Sequence[int], shelf: int | None) -> None:
    """Put items on a shelf, or on none."""
    if shelf is not None:
        _shelf(connection, shelf)
    run(connection, "shelve_stock", items=list(items), shelf=shelf)
    notify(connection, "stock")


def colourways(connection: Connection, item: int) -> list[ColourwayRow]:
    """Return the colourways of an item, oldest first."""
    return rows(connection, ColourwayRow, "colourways", item=item)


def colourway(connection: Connection, item: int, name: str) -> dict[str, Cloth]:
    """Return the materials of a colourway by material name. Raises `NotFound` if there is none."""
    for way in colourways(connection, item):
        if way.name == name:
            return way.materials
    raise NotFound(what=f"there is no colourway '{name}'", where="this piece", todo="Choose one of its colourways.")


def put_colourway(connection: Connection, item: int, name: str, materials: Mapping[str, Cloth]) -> None:
    """Keep a colourway under its name."""
    plain = {material: cloth.model_dump(mode="json") for material, cloth in materials.items()}
    run(connection, "put_colourway", item=item, name=name, materials=Jsonb(plain))
    notify(connection, "stock")


def drop_colourway(connection: Connection, item: int, name: str) -> None:
    """Forget a colourway. Raises `NotFound` if there is none."""
    if not changed(connection, "drop_colourway", item=item, name=name):
        raise NotFound(what=f"there is no colourway '{name}'", where="this piece", todo="Reload the room.")
    notify(connection, "stock")


def bundles(connection: Connection) -> list[BundleRow]:
    """Return every bundle with the names of its pieces."""
    return rows(connection, BundleRow, "bundles")


def bundle(connection: Connection, number: int) -> BundleRow:
    """Return a bundle without the names of its pieces. Raises `NotFound` if there is none."""
    found = row(connection, BundleRow, "bundle", bundle=number)
    return existing(found, what=f"there is no bundle {number}", where="the stockroom", todo="Reload the room.")


def put_bundle(connection: Connection, name: str, items: Sequence[int], author: str) -> int:
    """Keep pieces that belong together under a name; return the bundle."""
    made = number(connection, "put_bundle", name=name, items=list(items), author=author)
    notify(connection, "stock")
    return made


def drop_bundle(connection: Connection, bundle: int) -> None:
    """Undo a bundle; its pieces stay in stock. Raises `NotFound` if there is none."""
    if not changed(connection, "drop_bundle", bundle=bundle):
        raise NotFound(what=f"there is no bundle {bundle}", where="the stockroom", todo="Reload the room.")
    notify(connection, "stock")


def _shelf(connection: Connection, shelf: int) -> _Shelf:
    found = row(connection, _Shelf, "shelf", shelf=shelf)
    return existing(found, what=f"there is no shelf {shelf}", where="the stockroom", todo="Reload the room.")
