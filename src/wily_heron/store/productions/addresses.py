"""Which arrays and pictures rows need: every address that stands in them, and in what stands under those."""

import re
import zlib
from collections.abc import Iterator
from typing import Any

import orjson

from ..db import Connection, get_blob, run
from .rows import Rows

_ADDRESS = re.compile(rb"[0-9a-f]{64}")
_HEAD = 64 * 2**20


def blobs_of(connection: Connection, kept: Rows) -> dict[str, str]:
    """Return the kind of every blob that rows name, directly or by way of another blob, by its address."""
    found: dict[str, str] = {}
    asked = _in_rows(kept)
    while asked:
        there = {r["sha256"]: r["kind"] for r in run(connection, "blobs_among", shas=sorted(asked))}
        found |= there
        asked = {inside for sha in there for inside in _in_frame(get_blob(connection, sha))} - found.keys()
    return found


def contents(connection: Connection, blobs: dict[str, str]) -> Iterator[tuple[str, str, bytes]]:
    """Give address, kind and bytes of each blob."""
    for sha, kind in blobs.items():
        yield sha, kind, get_blob(connection, sha)


def _in_rows(kept: Rows) -> set[str]:
    return {address.decode() for table in kept.values() for row in table for address in _ADDRESS.findall(_plain(row))}


def _plain(row: dict[str, Any]) -> bytes:
    return orjson.dumps({name: value for name, value in row.items() if not (isinstance(value, str) and value.startswith("\\x"))})


def _in_frame(data: bytes) -> set[str]:
    """Return the addresses in the header of a compressed frame; a picture has none."""
    reader = zlib.decompressobj()
    try:
        head = reader.decompress(data, 4)
        size = min(int.from_bytes(head, "little"), _HEAD)
        text = reader.decompress(reader.unconsumed_tail, size)
    except zlib.error:
        return set()
    return {address.decode() for address in _ADDRESS.findall(text)}
