"""The stock: cards of pieces, found by what is written on them."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from ..core.errors import InputError
from .db import Connection, one, run, tell


@dataclass(frozen=True)
class Card:
    """What is written on a piece's card."""

    name: str
    category: str
    tags: tuple[str, ...] = ()
    note: str = ""
    origin: str = ""
    licence: str = ""

    def words(self) -> str:
        """Return all that a search looks through."""
        return " ".join((self.name, self.category, *self.tags, self.note, self.origin)).lower()


@dataclass(frozen=True)
class Kept:
    """Where a piece's bytes and pictures are kept, and its figures."""

    file_name: str
    source: str
    vertices: int
    size: int
    findings: int


def add(connection: Connection, card: Card, kept: Kept, author: str) -> int:
    """Put a piece in stock; return its item."""
    row = run(connection, "add_stock", name=card.name, category=card.category, tags=list(card.tags), note=card.note, origin=card.origin,
              licence=card.licence, words=card.words(), author=author, **vars(kept))[0]
    tell(connection, "stock")
    return row["id"]


def search(connection: Connection, text: str, category: str | None, tag: str | None, favourites: bool, retired: bool, sort: str,
           limit: int, offset: int) -> list[dict]:
    """Return the cards that match, each with the `total` of all that do."""
    wanted = re.findall(r"\w+", text.lower())
    query = " & ".join(f"{word}:*" for word in wanted) or None
    like = f"%{text.lower().strip().replace('%', '').replace('_', '')}%"
    return run(connection, "search_stock", query=query, like=like, category=category, tag=tag, favourites=favourites, retired=retired,
               sort=sort, limit=limit, offset=offset)


def item(connection: Connection, number: int) -> dict:
    """Return a card's row; raises `InputError` if there is none."""
    row = one(connection, "stock_item", item=number)
    if row is None:
        raise InputError(what=f"there is no piece {number} in stock", where="the stockroom", todo="Reload the room.")
    return row


def change(connection: Connection, number: int, name: str | None, category: str | None, tags: Sequence[str] | None, note: str | None,
           favourite: bool | None) -> None:
    """Write on a card; what is left out stays."""
    row = item(connection, number)
    card = Card(name or row["name"], category or row["category"], tuple(row["tags"] if tags is None else _plain(tags)),
                row["note"] if note is None else note, row["origin"], row["licence"])
    run(connection, "change_stock", item=number, name=card.name, category=card.category, tags=list(card.tags), note=card.note,
        favourite=row["favourite"] if favourite is None else favourite, words=card.words())
    tell(connection, "stock")


def made_for(connection: Connection, number: int, body: str) -> None:
    """Note the body a piece in stock was made for."""
    run(connection, "stock_made_for", item=number, body=body)


def retire(connection: Connection, number: int, retired: bool) -> None:
    """Take a piece out of stock or back into it; outfits that wear it keep it either way."""
    item(connection, number)
    run(connection, "retire_stock", item=number, retired=retired)
    tell(connection, "stock")


def _plain(tags: Sequence[str]) -> list[str]:
    return list(dict.fromkeys(t.strip().lower()[:40] for t in tags if t.strip()))[:20]
