"""Files that came with a piece: found by plain name, never by path, never fetched."""

from collections.abc import Mapping
from urllib.parse import unquote

Beside = Mapping[str, bytes]
"""Bytes by file name, lower case, without folders."""


def plain_name(path: str) -> str:
    """Return the file name at the end of a path or relative URI, lower case."""
    return unquote(path).replace("\\", "/").rsplit("/", 1)[-1].strip().lower()


def is_outside(path: str) -> bool:
    """Return whether a URI points out of the upload: another scheme, an absolute path, or a step upwards."""
    text = unquote(path).replace("\\", "/")
    return "://" in text or text.startswith("/") or text[1:2] == ":" or ".." in text.split("/")
