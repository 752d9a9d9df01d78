"""The order of the stock: shelves within shelves, colourways and bundles."""

from collections.abc import Mapping, Sequence
from typing import Any

from psycopg.types.json import Jsonb

from ..core.errors import InputError, NotFound
from .db import Connection, one, run
from .events import notify


def add_shelf(connection: Connection, name: str, parent: int | None) -> int:
    """Put up a shelf, on its own or in another; raises `InputError` for a name that is there already."""
    if parent is not None:
        _shelf(connection, parent)
    rows = run(connection, "add_shelf", name=name, parent=parent)
    if not rows:
        raise InputError(what=f"there is a shelf '{name}' already", where="the shelves", todo="Choose another name.")
    notify(connection, "stock")
    return rows[0]["id"]


def change_shelf(connection: Connection, shelf: int, name: str | None, parent: int | None) -> None:
    """Give a shelf another name and place; raises `InputError` if it would stand in itself."""
    row = _shelf(connection, shelf)
    if parent is not None and shelf in {r["id"] for r in run(connection, "above_shelf", shelf=parent)}:
        raise InputError(what="a shelf cannot stand in itself", where=f"the shelf {row['name']}", todo="Choose another place.")
    run(connection, "change_shelf", shelf=shelf, name=name or row["name"], parent=parent)
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


def colourway(connection: Connection, item: int, name: str) -> dict[str, Any]:
    """Return the materials of a colourway by material name; raises `InputError` if there is none."""
    row = next((r for r in run(connection, "colourways", item=item) if r["name"] == name), None)
    if row is None:
        raise NotFound(what=f"there is no colourway '{name}'", where="this piece", todo="Choose one of its colourways.")
    return row["materials"]


def put_colourway(connection: Connection, item: int, name: str, materials: Mapping[str, Any]) -> None:
    """Keep a colourway under its name."""
    run(connection, "put_colourway", item=item, name=name, materials=Jsonb(dict(materials)))
    notify(connection, "stock")


def bundle(connection: Connection, number: int) -> dict[str, Any]:
    """Return a bundle's row; raises `InputError` if there is none."""
    row = one(connection, "bundle", bundle=number)
    if row is None:
        raise NotFound(what=f"there is no bundle {number}", where="the stockroom", todo="Reload the room.")
    return row


def _shelf(connection: Connection, shelf: int) -> dict[str, Any]:
    row = one(connection, "shelf", shelf=shelf)
    if row is None:
        raise NotFound(what=f"there is no shelf {shelf}", where="the stockroom", todo="Reload the room.")
    return row
