"""Arrays as one binary frame: what the browser reads, and, compressed, what blobs hold."""

import io
import zlib
from collections.abc import Mapping
from typing import Any

import numpy as np
import orjson

STEP = 1e-5
"""Shape deltas go over the wire as multiples of this many metres."""


def array_frame(arrays: Mapping[str, np.ndarray], notes: Mapping[str, Any]) -> bytes:
    """Return arrays as one frame: u32 header length, JSON header (name, dtype, shape, offset of each; notes), then the data.

    Offsets count from the end of the header and are multiples of 8; so is the header's end.
    """
    listed, chunks, at = [], io.BytesIO(), 0
    for name, array in arrays.items():
        raw = np.ascontiguousarray(array).tobytes()
        listed.append({"name": name, "dtype": array.dtype.str, "shape": list(array.shape), "offset": at})
        chunks.write(raw + b"\0" * (-len(raw) % 8))
        at += len(raw) + (-len(raw) % 8)
    head = orjson.dumps({"arrays": listed, "notes": notes}, option=orjson.OPT_SERIALIZE_NUMPY)
    head += b" " * (-(len(head) + 4) % 8)
    return len(head).to_bytes(4, "little") + head + chunks.getvalue()


def read_frame(raw: bytes) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    """Return the arrays, each a copy of its own, and the notes of a frame."""
    size = int.from_bytes(raw[:4], "little")
    head = orjson.loads(raw[4:4 + size])
    arrays = {}
    for a in head["arrays"]:
        count = int(np.prod(a["shape"]))
        arrays[a["name"]] = np.frombuffer(raw, a["dtype"], count, 4 + size + a["offset"]).reshape(a["shape"]).copy()
    return arrays, head["notes"]


def pack(arrays: Mapping[str, np.ndarray], notes: Mapping[str, Any]) -> bytes:
    """Return arrays and notes as a compressed frame."""
    return zlib.compress(array_frame(arrays, notes), 1)


def unpack(data: bytes) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    """Return the arrays and notes of `pack`."""
    return read_frame(zlib.decompress(data))


def moved_rows(deltas: np.ndarray) -> dict[str, np.ndarray]:
    """Return shape deltas (s, n, 3) as the rows each shape moves: `delta_counts` (s,), `delta_rows` (r,), `delta_steps` (r, 3).

    A step is a hundredth of a millimetre; rows that move less than half of that are left out.
    """
    steps = np.round(deltas / STEP)
    counts, rows, kept = [], [], []
    for shape in steps:
        moved = np.flatnonzero(shape.any(axis=1))
        counts.append(len(moved))
        rows.append(moved)
        kept.append(shape[moved])
    return {"delta_counts": np.array(counts, "<i4"), "delta_rows": np.concatenate(rows).astype("<i4"),
            "delta_steps": np.clip(np.concatenate(kept), -32767, 32767).astype("<i2")}
