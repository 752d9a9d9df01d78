"""The stock: cards of pieces, bodies, poses, motions, fabrics, textures and extras, found by what is written on them."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from typing import Any, Literal

from psycopg.types.json import Jsonb

from ..core.errors import NotFound
from .db import Connection, one, run
from .events import notify

Kind = Literal["piece", "body", "pose", "motion", "fabric", "texture", "extra"]


@dataclass(frozen=True)
class Card:
    """What is written on a card."""

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
    """Where an item's bytes are kept, its kind and figures; `content` is what its kind needs besides (a pose's rotations, ...)."""

    file_name: str
    source: str
    vertices: int = 0
    size: int = 0
    findings: int = 0
    kind: Kind = "piece"
    content: Mapping[str, Any] = field(default_factory=dict)
    height: float | None = None
    low: float | None = None
    made_for: str | None = None
    shelf: int | None = None


@dataclass(frozen=True)
class Asked:
    """What a search asks for; `body` and `stature` (metres) stand for a wearer the pieces must fit."""

    text: str = ""
    category: str | None = None
    kind: str | None = None
    tag: str | None = None
    shelf: int | None = None
    favourites: bool = False
    retired: bool = False
    body: str | None = None
    stature: float | None = None
    sort: str = "newest"
    limit: int = 60
    offset: int = 0


def add(connection: Connection, card: Card, kept: Kept, author: str) -> int:
    """Put an item in stock; return it."""
    values = vars(kept) | {"content": Jsonb(dict(kept.content))}
    row = run(connection, "add_stock", name=card.name, category=card.category, tags=list(card.tags), note=card.note, origin=card.origin,
              licence=card.licence, words=card.words(), author=author, **values)[0]
    notify(connection, "stock")
    return row["id"]


def search(connection: Connection, asked: Asked) -> list[dict]:
    """Return the cards that match, each with the `total` of all that do."""
    wanted = re.findall(r"\w+", asked.text.lower())
    query = " & ".join(f"{word}:*" for word in wanted) or None
    like = f"%{asked.text.lower().strip().replace('%', '').replace('_', '')}%"
    plain = {k: v for k, v in asdict(asked).items() if k != "text"}
    return run(connection, "search_stock", query=query, like=like, starts=like[1:], **plain)


def item(connection: Connection, number: int) -> dict:
    """Return a card's row; raises `InputError` if there is none."""
    row = one(connection, "stock_item", item=number)
    if row is None:
        raise NotFound(what=f"there is no item {number} in stock", where="the stockroom", todo="Reload the room.")
    return row


def change(connection: Connection, number: int, written: Mapping[str, Any]) -> None:
    """Write on a card; what is left out (or None) stays."""
    row = item(connection, number) | {k: v for k, v in written.items() if v is not None}
    card = Card(row["name"], row["category"], tuple(_plain(row["tags"])), row["note"], row["origin"], row["licence"])
    run(connection, "change_stock", item=number, favourite=row["favourite"], words=card.words(), **(vars(card) | {"tags": list(card.tags)}))
    notify(connection, "stock")


def made_for(connection: Connection, number: int, body: str) -> None:
    """Note the body a piece in stock was made for."""
    run(connection, "stock_made_for", item=number, body=body)


def retire(connection: Connection, numbers: Sequence[int], retired: bool) -> None:
    """Take items out of stock or back into it; outfits that wear them keep them either way."""
    for number in numbers:
        item(connection, number)
    run(connection, "retire_stock", items=list(numbers), retired=retired)
    notify(connection, "stock")


def duplicate(connection: Connection, number: int, author: str) -> int:
    """Put a copy of an item in stock, with its colourways; return it."""
    row = item(connection, number)
    card = Card(f"{row['name']}, copy"[:60], row["category"], tuple(row["tags"]), row["note"], row["origin"], row["licence"])
    made = run(connection, "copy_stock", item=number, name=card.name, words=card.words(), author=author)[0]["id"]
    run(connection, "copy_colourways", item=number, to=made)
    notify(connection, "stock")
    return made


def _plain(tags: Sequence[str]) -> list[str]:
    return list(dict.fromkeys(t.strip().lower()[:40] for t in tags if t.strip()))[:20]
