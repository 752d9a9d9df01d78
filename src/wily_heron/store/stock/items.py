"""The stock: cards of pieces, bodies, poses, motions, fabrics, textures and extras, found by what is written on them."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from datetime import datetime
from typing import Any, Literal

from psycopg.types.json import Jsonb

from ..db import Connection, Row, existing, number, numbers, row, rows, run
from ..events import notify

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
class Content:
    """Where an item's bytes are kept, its kind and figures; `content` is what its kind needs besides (a pose's rotations, ...).

    `height` and `low` (metres) are those of a piece as it came.
    """

    file_name: str
    source: str
    vertices: int = 0
    size: int = 0
    findings: int = 0
    kind: Kind = "piece"
    content: Mapping[str, Any] = field(default_factory=dict[str, Any])
    height: float | None = None
    low: float | None = None
    made_for: str | None = None
    shelf: int | None = None


@dataclass(frozen=True)
class Query:
    """What a search looks for.

    `body` and `stature` (metres) stand for a wearer the pieces must fit, `used_in` for a production whose pieces come from what is found.
    """

    text: str = ""
    category: str | None = None
    kind: str | None = None
    tag: str | None = None
    shelf: int | None = None
    favourites: bool = False
    retired: bool = False
    body: str | None = None
    stature: float | None = None
    used_in: int | None = None
    sort: Literal["newest", "name", "size"] = "newest"
    limit: int = 60
    offset: int = 0


class _Item(Row):
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
    made_for: str | None
    shelf_id: int | None
    version: int
    content: dict[str, Any]

    @property
    def card(self) -> Card:
        """What is written on it."""
        return Card(self.name, self.category, tuple(self.tags), self.note, self.origin, self.licence)


class ItemRow(_Item):
    """An item of the stock: its card, and where its bytes are kept; `made_for` is the address of a body."""

    source: str


class FoundRow(_Item):
    """An item that a search has found, one of `total`; `made_for` is the name of a body."""

    retired: bool
    used_by: list[str]
    added_by: str
    added_at: datetime
    total: int


class CountRow(Row):
    """A word, and how often it occurs."""

    name: str
    count: int


def add(connection: Connection, card: Card, content: Content, author: str) -> int:
    """Put an item in stock; return it."""
    values = vars(content) | {"content": Jsonb(dict(content.content))}
    item = number(connection, "add_stock", words=card.words(), author=author, **(vars(card) | {"tags": list(card.tags)}), **values)
    notify(connection, "stock")
    return item


def search(connection: Connection, query: Query) -> list[FoundRow]:
    """Return the items whose cards match, each with the `total` of all that do."""
    wanted = re.findall(r"\w+", query.text.lower())
    words = " & ".join(f"{word}:*" for word in wanted) or None
    like = f"%{query.text.lower().strip().replace('%', '').replace('_', '')}%"
    plain = {k: v for k, v in asdict(query).items() if k != "text"}
    return rows(connection, FoundRow, "search_stock", query=words, like=like, starts=like[1:], **plain)


def counts(connection: Connection, of: Literal["categories", "kinds", "tags"]) -> list[CountRow]:
    """Return the categories, kinds or tags there are, and how often each occurs."""
    return rows(connection, CountRow, {"categories": "stock_categories", "kinds": "stock_kinds", "tags": "stock_tags"}[of])


def get_item(connection: Connection, item: int) -> ItemRow:
    """Return an item. Raises `NotFound` if there is none."""
    found = row(connection, ItemRow, "stock_item", item=item)
    return existing(found, what=f"there is no item {item} in stock", where="the stockroom", todo="Reload the room.")


def undrawn(connection: Connection) -> list[int]:
    """Return the items whose views are not drawn, the newest first."""
    return numbers(connection, "undrawn_stock")


def set_strip(connection: Connection, item: int, strip: str) -> None:
    """Note the picture of an item's views."""
    run(connection, "strip_of", item=item, strip=strip)
    notify(connection, "stock")


def change(connection: Connection, item: int, written: Mapping[str, Any]) -> None:
    """Write on a card; what is left out (or None) stays. Raises `NotFound` if there is none."""
    now = get_item(connection, item)
    new = now.model_copy(update={k: v for k, v in written.items() if v is not None})
    card = Card(new.name, new.category, tuple(_plain(new.tags)), new.note, new.origin, new.licence)
    run(connection, "change_stock", item=item, favourite=new.favourite, words=card.words(), **(vars(card) | {"tags": list(card.tags)}))
    notify(connection, "stock")


def set_made_for(connection: Connection, item: int, body: str) -> None:
    """Note the body a piece in stock was made for."""
    run(connection, "stock_made_for", item=item, body=body)


def tag(connection: Connection, items: Sequence[int], word: str) -> None:
    """Give items a tag."""
    run(connection, "tag_stock", items=list(items), tag=word.strip().lower())
    notify(connection, "stock")


def retire(connection: Connection, items: Sequence[int], retired: bool) -> None:
    """Take items out of stock or back into it; outfits that wear them keep them either way. Raises `NotFound` for one that is not there."""
    for item in items:
        get_item(connection, item)
    run(connection, "retire_stock", items=list(items), retired=retired)
    notify(connection, "stock")


def duplicate(connection: Connection, item: int, author: str) -> int:
    """Put a copy of an item in stock, with its colourways; return it. Raises `NotFound` if there is none."""
    now = get_item(connection, item)
    card = Card(f"{now.name}, copy"[:60], now.category, tuple(now.tags), now.note, now.origin, now.licence)
    made = number(connection, "copy_stock", item=item, name=card.name, words=card.words(), author=author)
    run(connection, "copy_colourways", item=item, to=made)
    notify(connection, "stock")
    return made


def renew(connection: Connection, item: int, content: Content) -> None:
    """Put a newer version in the place of an item's bytes; the version before is kept."""
    run(connection, "keep_version", item=item)
    run(connection, "renew_stock", item=item, source=content.source, file_name=content.file_name, vertices=content.vertices,
        size=content.size, findings=content.findings)
    notify(connection, "stock")


def empty(connection: Connection) -> None:
    """Empty the stockroom with its shelves, bundles and batches: the demo is loaded anew."""
    run(connection, "drop_stock")
    run(connection, "drop_stock_order")


def _plain(tags: Sequence[str]) -> list[str]:
    return list(dict.fromkeys(t.strip().lower()[:40] for t in tags if t.strip()))[:20]
