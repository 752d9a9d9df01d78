"""Motions as they are kept: the shipped ones, and those in stock."""

from functools import cache

import numpy as np

from ...core.errors import NotFound
from ...core.figure.figure import figure
from ...core.motion.clips import CLIPS, clip_named
from ...core.motion.motion import Motion
from ...formats.array_frame import unpack
from ..db import Connection, get_blob
from ..stock.items import Query, get_item, search

_STOCK = "stock-"


def motion_of(connection: Connection, name: str) -> Motion:
    """Return a motion on the figure's joints by name, a shipped one or `stock-ID`; raises `InputError` if there is none.

    Those of the stock stay where they are: their root is not moved.
    """
    skeleton = figure(1).skeleton
    if not name.startswith(_STOCK):
        return clip_named(name, skeleton)
    if not name.removeprefix(_STOCK).isdigit():
        raise NotFound(what=f"there is no motion {name}", where="the motions", todo="Choose one of the list.")
    card = get_item(connection, int(name.removeprefix(_STOCK)))
    arrays, notes = unpack(get_blob(connection, card.source))
    names = tuple(notes["joints"])
    at = {n: i for i, n in enumerate(names)}
    rows = [skeleton.index(n) for n in names]
    above = [int(skeleton.parents[j]) for j in rows]
    parents = np.array([at.get(skeleton.names[p], -1) if p >= 0 else -1 for p in above], np.int32)
    places = skeleton.positions[rows]
    offsets = np.where(parents[:, None] >= 0, places - places[parents], places)
    turns = arrays["rotations"].astype(float)
    return Motion(card.name, names, parents, offsets, turns, np.zeros((len(turns), 3)), card.content["seconds_per_frame"])


def motion_names(connection: Connection) -> list[tuple[str, str, float]]:
    """Return name, label and length (seconds) of every motion, those of the stock last."""
    kept = search(connection, Query(kind="motion", sort="name", limit=100))
    lengths = [card.content["frames"] * card.content["seconds_per_frame"] for card in kept]
    return [*_shipped(), *((f"{_STOCK}{card.id}", card.name, s) for card, s in zip(kept, lengths, strict=True))]


@cache
def _shipped() -> tuple[tuple[str, str, float], ...]:
    clips = [(n, clip_named(n, figure(1).skeleton)) for n in CLIPS]
    return tuple((n, n.replace("-", " ").capitalize(), len(c.rotations) * c.seconds) for n, c in clips)
