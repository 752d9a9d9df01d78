"""Whole falls: every frame of what fell, packed small."""

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from .arrays import pack
from .db import Connection, put_blob, run
from .events import notify

STEP = 1e-4
"""Points of a kept fall are multiples of this many metres off where the piece rests: at most 3.2 m."""


def add_fall(connection: Connection, piece: int, geometry: str, label: str, author: str, rest: Mapping[str, np.ndarray],
             frames: Sequence[tuple[Mapping[str, np.ndarray], dict[str, Any]]]) -> int:
    """Keep the frames of a fall, each its points by name (n, 3) as they lie at rest and what is told of it; `rest` are those of the pieces.

    The blob holds `rest:` and `moves:` (in steps) by name, and in its notes what was told; names are those of the live socket.
    """
    arrays = {f"rest:{name}": points.astype("<f4") for name, points in rest.items()}
    for name, points in rest.items():
        moves = np.stack([frame[name] for frame, _ in frames]) - points
        arrays[f"moves:{name}"] = np.clip(np.round(moves / STEP), -32767, 32767).astype("<i2")
    data = pack(arrays, {"frames": [told for _, told in frames], "step": STEP})
    made = run(connection, "add_fall", piece=piece, geometry=geometry, label=label, frames=len(frames), author=author,
               blob=put_blob(connection, data, "fall"))[0]["id"]
    notify(connection, "fall", piece=piece)
    return made
