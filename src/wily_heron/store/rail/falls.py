"""Whole falls: every frame of what fell, packed small."""

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from ...core.errors import NotFound
from ...formats.array_frame import pack, unpack
from ..db import Connection, Row, get_blob, number, one, put_blob, rows
from ..events import notify

STEP = 1e-4
"""Points of a kept fall are multiples of this many metres off where the piece rests: at most 3.2 m."""


class FallRow(Row):
    """A whole fall that is kept, with its size in bytes and the geometry it belongs to."""

    id: int
    label: str
    frames: int
    author: str
    geometry: str
    bytes: int


def add_fall(connection: Connection, piece: int, geometry: str, label: str, author: str, rest: Mapping[str, np.ndarray],
             frames: Sequence[tuple[Mapping[str, np.ndarray], dict[str, Any]]]) -> int:
    """Keep the frames of a fall, each its points by name (n, 3) as they lie at rest and what is told of it; `rest` are those of the pieces.

    The blob holds `rest:` and `moves:` (in steps) by name, and in its notes what was told; names are those of the live socket.
    """
    arrays = {f"rest:{name}": points.astype("<f4") for name, points in rest.items()}
    for name, points in rest.items():
        moves = np.stack([frame[name] for frame, _ in frames]) - points
        arrays[f"moves:{name}"] = np.clip(np.round(moves / STEP), -32767, 32767).astype("<i2")
    data = pack(arrays, {"frames": [notes for _, notes in frames], "step": STEP})
    made = number(connection, "add_fall", piece=piece, geometry=geometry, label=label, frames=len(frames), author=author,
                  blob=put_blob(connection, data, "fall"))
    notify(connection, "fall", piece=piece)
    return made


def falls_of(connection: Connection, piece: int) -> list[FallRow]:
    """Return the falls that are kept of a piece, newest first."""
    return rows(connection, FallRow, "falls_of", piece=piece)


def fall_frames(connection: Connection, fall: int) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    """Return the arrays and notes of `add_fall`. Raises `NotFound` if there is no such fall."""
    found = one(connection, "fall", fall=fall)
    if found is None:
        raise _gone(fall)
    return unpack(get_blob(connection, found["frames_sha"]))


def drop_fall(connection: Connection, fall: int) -> None:
    """Drop a fall. Raises `NotFound` if there is none."""
    gone = one(connection, "drop_fall", fall=fall)
    if gone is None:
        raise _gone(fall)
    notify(connection, "fall", piece=gone["piece_id"])


def _gone(fall: int) -> NotFound:
    return NotFound(what=f"there is no fall {fall}", where="the drape step", todo="It may have been dropped in another window.")
