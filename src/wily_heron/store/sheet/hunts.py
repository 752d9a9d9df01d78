"""Hunts for failures in random poses: their parts, and what they found."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Literal

import orjson
from psycopg.types.json import Jsonb
from pydantic import field_validator

from ...core.clearance.figures import Figures
from ..db import Connection, Row, existing, number, put_blob, row, rows, run
from ..events import notify
from .trials import Worn, figures_json


class HuntRow(Row):
    """A hunt: what is worn in it by each body, the seed of its poses, and how far joints go in them (share of their ranges)."""

    id: int
    production: int
    outfit: dict[str, Worn]
    seed: int
    share: float
    state: Literal["running", "done", "cancelled"]
    started_at: datetime

    @field_validator("outfit", mode="before")
    @classmethod
    def _read(cls, kept: object) -> object:
        return orjson.loads(kept) if isinstance(kept, str) else kept


class PartRow(Row):
    """One wearer of a hunt, or a mix of the cast: `done` of its `poses` are measured."""

    part: int
    name: str
    body: str | None
    shape: dict[str, float]
    poses: int
    done: int


class FoundRow(Row):
    """A pose that failed: on whom most (a wearer of the cast, or a mix whose shape is told) and on how many, figures and picture."""

    name: str
    wearer: int | None
    body: str | None
    shape: dict[str, float]
    rotations: dict[str, list[float]]
    figures: Figures
    picture: str | None
    fails_on: int


class Hunted(Row):
    """Whom a hunt is to try: a wearer of the cast, or a mix of it (no number)."""

    name: str
    wearer: int | None
    body: str | None
    shape: dict[str, float]


class _Open(Row):
    hunt: int
    part: int


def add_hunt(connection: Connection, production: int, outfit: Mapping[str, Worn], seed: int, share: float, parts: Sequence[Hunted],
             poses: int) -> int:
    """Begin a hunt in the place of the one before; return it."""
    before = latest_hunt(connection, production)
    if before:
        run(connection, "cancel_hunt", hunt=before.id)
    hunt = number(connection, "add_hunt", production=production, outfit=orjson.dumps(outfit).decode(), seed=seed, share=share)
    for part, who in enumerate(parts):
        run(connection, "add_hunt_part", hunt=hunt, part=part, name=who.name, wearer=who.wearer, body=who.body, shape=Jsonb(who.shape),
            poses=poses)
    notify(connection, "hunt", hunt=hunt)
    return hunt


def find_hunt(connection: Connection, hunt: int) -> HuntRow | None:
    """Return a hunt, None if there is none."""
    return row(connection, HuntRow, "hunt", hunt=hunt)


def get_hunt(connection: Connection, hunt: int) -> HuntRow:
    """Return a hunt. Raises `NotFound` if there is none."""
    return existing(find_hunt(connection, hunt), what=f"there is no hunt {hunt}", where="the trial sheet", todo="Start a new one.")


def latest_hunt(connection: Connection, production: int) -> HuntRow | None:
    """Return the newest hunt of a production."""
    return row(connection, HuntRow, "latest_hunt", production=production)


def find_part(connection: Connection, hunt: int, part: int) -> PartRow | None:
    """Return a part of a hunt, None if there is none."""
    return row(connection, PartRow, "hunt_part", hunt=hunt, part=part)


def parts_of(connection: Connection, hunt: int) -> list[PartRow]:
    """Return the parts of a hunt."""
    return rows(connection, PartRow, "hunt_parts", hunt=hunt)


def worst_of(connection: Connection, hunt: int, most: int) -> list[FoundRow]:
    """Return at most so many of the poses that failed, the worst first."""
    return rows(connection, FoundRow, "hunt_worst", hunt=hunt, most=most)


def failures_of(connection: Connection, hunt: int) -> int:
    """Return how many cells of a hunt failed."""
    return run(connection, "hunt_found_count", hunt=hunt)[0]["found"]


def open_parts(connection: Connection) -> list[tuple[int, int]]:
    """Return the parts `(hunt, part)` that are not done of the hunts under way."""
    return [(found.hunt, found.part) for found in rows(connection, _Open, "open_hunt_parts")]


def add_found(connection: Connection, hunt: int, part: int, place: int, rotations: Mapping[str, Sequence[float]], figures: Figures,
              picture: bytes) -> None:
    """Store that a part fails in the pose at `place`, with its picture (a .png)."""
    run(connection, "add_hunt_found", hunt=hunt, part=part, place=place, rotations=Jsonb(dict(rotations)),
        figures=Jsonb(figures_json(figures)), picture=put_blob(connection, picture, "png"))


def set_done(connection: Connection, hunt: int, part: int, done: int) -> None:
    """Note how many poses of a part are measured; the last one closes the hunt."""
    run(connection, "lock_hunt", hunt=hunt)
    run(connection, "hunt_progress", hunt=hunt, part=part, done=done)
    run(connection, "close_hunt_if_done", hunt=hunt)
    notify(connection, "hunt", hunt=hunt)


def cancel_hunt(connection: Connection, hunt: int) -> None:
    """Stop a hunt; what was found stays. Raises `NotFound` if there is none."""
    get_hunt(connection, hunt)
    run(connection, "cancel_hunt", hunt=hunt)
    notify(connection, "hunt", hunt=hunt)


def reopen_hunt(connection: Connection, hunt: int) -> None:
    """Let a hunt that was given up go on."""
    run(connection, "reopen_hunt", hunt=hunt)
    notify(connection, "hunt", hunt=hunt)
