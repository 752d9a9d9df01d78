"""A .gltf or .glb with its buffers in one piece: embedded, in data URIs, or beside it in the same upload; nothing is fetched."""

import base64
import binascii
import json
import struct
from typing import Any

from ...core.errors import InputError
from ..beside import Beside, plain_name
from .glb import GlbReader


def open_gltf(data: bytes, name: str, beside: Beside) -> GlbReader:
    """Return a reader over all buffers of the file joined; raises `InputError` for damage and for buffers that did not come."""
    if data[:4] == b"glTF":
        reader = GlbReader(data, name)
        if len(_buffers(reader.json, name)) <= 1:
            return reader
        text, first = reader.json, reader.embedded
    else:
        try:
            text, first = json.loads(data), b""
        except (ValueError, RecursionError):
            raise damaged(name, "its JSON cannot be read") from None
        if not isinstance(text, dict):
            raise damaged(name, "its JSON is not an object")
    raw, starts = b"", []
    for buffer in _buffers(text, name):
        starts.append(len(raw))
        content = _uri_bytes(buffer["uri"], name, beside, "buffer") if "uri" in buffer else first
        raw += content + b"\0" * (-len(content) % 4)
    views = text.get("bufferViews", [])
    if not isinstance(views, list):
        raise damaged(name, "its bufferViews are no list")
    for view in views:
        try:
            view["byteOffset"] = int(view.get("byteOffset", 0)) + starts[int(view.get("buffer", 0))]
            view["buffer"] = 0
        except (AttributeError, TypeError, ValueError, IndexError):
            raise damaged(name, "a buffer view asks for a buffer that is not there") from None
    text["buffers"] = [{"byteLength": len(raw)}]
    return GlbReader(_as_glb(text, raw), name)


def image_bytes(reader: GlbReader, image: dict[str, Any], beside: Beside) -> tuple[str, bytes | None]:
    """Return a texture's name and its bytes, None where they did not come with the upload."""
    uri = image.get("uri")
    if isinstance(uri, str) and not uri.startswith("data:"):
        file = plain_name(uri)
        return str(image.get("name") or file), beside.get(file)
    label = str(image.get("name") or "picture")[:80]
    if isinstance(uri, str):
        return label, _uri_bytes(uri, reader.name, beside, "picture")
    return label, reader.view_bytes(image.get("bufferView", -1))


def damaged(name: str, what: str) -> InputError:
    """Return the error for a glTF file that cannot be used."""
    return InputError(what=what, where=name, todo="Export it again as binary glTF 2.0 (.glb) with its buffer inside.")


def listed(reader: GlbReader, key: str) -> list[dict[str, Any]]:
    """Return a list of objects of the file; raises `InputError` if it is something else."""
    found = reader.json.get(key, [])
    if not isinstance(found, list) or not all(isinstance(x, dict) for x in found):
        raise damaged(reader.name, f"its {key} are no list")
    return found


def _buffers(text: dict[str, Any], name: str) -> list[dict[str, Any]]:
    found = text.get("buffers", [])
    if not isinstance(found, list) or not all(isinstance(b, dict) for b in found) or len(found) > 64:
        raise damaged(name, "its buffers are no list")
    return found


def _uri_bytes(uri: object, name: str, beside: Beside, what: str) -> bytes:
    if not isinstance(uri, str):
        raise damaged(name, f"a {what} has no address")
    if uri.startswith("data:") and "," in uri:
        try:
            return base64.b64decode(uri.split(",", 1)[1], validate=True)
        except (ValueError, binascii.Error):
            raise damaged(name, f"a {what} in it is no base64") from None
    if plain_name(uri) in beside:
        return beside[plain_name(uri)]
    raise InputError(what=f"its {what} lies in another file ({uri[:60]})", where=name,
                     todo="Bring that file in together with it, or export as .glb with everything embedded.")


def _as_glb(text: dict[str, Any], raw: bytes) -> bytes:
    inner = json.dumps(text).encode()
    inner += b" " * (-len(inner) % 4)
    return (struct.pack("<4sII", b"glTF", 2, 28 + len(inner) + len(raw)) + struct.pack("<I4s", len(inner), b"JSON") + inner
            + struct.pack("<I4s", len(raw), b"BIN\0") + raw)
