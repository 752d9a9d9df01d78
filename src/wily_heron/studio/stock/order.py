"""The order of the stock: shelves and bundles."""

from collections.abc import Sequence

from ...core.errors import InputError
from ...store.db import transaction
from ...store.stock import items, order
from ..desk import Desk


def put_bundle(desk: Desk, name: str, of: Sequence[int]) -> int:
    """Keep pieces that belong together under a name, from the skin outwards; return the bundle."""
    with transaction() as connection:
        if any(items.get_item(connection, item).kind != "piece" for item in of):
            raise InputError(what="only pieces belong in a bundle", where=name, todo="Leave the others out.")
        return order.put_bundle(connection, name.strip(), of, desk.artist)


def drop_bundle(bundle: int) -> None:
    """Undo a bundle; its pieces stay in stock."""
    with transaction() as connection:
        order.drop_bundle(connection, bundle)


def add_shelf(name: str | None, parent: int | None) -> int:
    """Put up a shelf; return it."""
    if not name or not name.strip():
        raise InputError(what="it has no name", where="the shelf", todo="Give it one.")
    with transaction() as connection:
        return order.add_shelf(connection, name.strip(), parent)


def change_shelf(shelf: int, name: str | None, parent: int | None) -> None:
    """Give a shelf another name, or another place."""
    with transaction() as connection:
        order.change_shelf(connection, shelf, name, parent)


def drop_shelf(shelf: int) -> None:
    """Take a shelf down; what stood on it stays in stock."""
    with transaction() as connection:
        order.drop_shelf(connection, shelf)
