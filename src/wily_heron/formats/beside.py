"""Files that came with a piece: found by plain name among them, wherever the file says they lay; never by path, never fetched."""

from collections.abc import Mapping
from urllib.parse import unquote

Beside = Mapping[str, bytes]
"""Bytes by file name, lower case, without folders."""


def plain_name(path: str) -> str:
    """Return the file name at the end of a path or relative URI, lower case."""
    return unquote(path).replace("\\", "/").rsplit("/", 1)[-1].strip().lower()
