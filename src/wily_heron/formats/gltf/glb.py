"""The binary glTF 2.0 container: arrays to accessors and back."""

import json
import struct
from typing import Any

import numpy as np

from ...core.errors import InputError

_COMPONENT = {np.dtype(np.uint8): 5121, np.dtype(np.uint16): 5123, np.dtype(np.uint32): 5125, np.dtype(np.float32): 5126,
              np.dtype(np.int8): 5120, np.dtype(np.int16): 5122}
_DTYPE = {code: dtype for dtype, code in _COMPONENT.items()}
_WIDTH = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}
_MOST = 50_000_000
_TODO = "Export it again as binary glTF 2.0 (.glb) with its buffer inside."


class GlbWriter:
    """Collects arrays in one buffer and the JSON around them."""

    def __init__(self) -> None:
        self.json: dict[str, Any] = {"asset": {"version": "2.0", "generator": "Wily Heron"}, "accessors": [], "bufferViews": []}
        self._chunks: list[bytes] = []
        self._length = 0

    def accessor(self, array: np.ndarray, kind: str, target: int | None = None, bounds: bool = False) -> int:
        """Append `array` and return its accessor; `target` 34962 for vertices, 34963 for indices."""
        data = np.ascontiguousarray(array)
        raw = data.tobytes()
        view: dict[str, Any] = {"buffer": 0, "byteOffset": self._length, "byteLength": len(raw)}
        if target:
            view["target"] = target
        raw += b"\0" * (-len(raw) % 4)
        self._chunks.append(raw)
        self._length += len(raw)
        self.json["bufferViews"].append(view)
        entry: dict[str, Any] = {"bufferView": len(self.json["bufferViews"]) - 1, "componentType": _COMPONENT[data.dtype],
                                 "count": data.size // _WIDTH[kind], "type": kind}
        if bounds:
            flat = data.reshape(-1, _WIDTH[kind])
            entry["min"], entry["max"] = flat.min(axis=0).tolist(), flat.max(axis=0).tolist()
        self.json["accessors"].append(entry)
        return len(self.json["accessors"]) - 1

    def view(self, raw: bytes) -> int:
        """Append bytes that are no accessor, such as a picture; return the buffer view."""
        self.json["bufferViews"].append({"buffer": 0, "byteOffset": self._length, "byteLength": len(raw)})
        self._chunks.append(raw + b"\0" * (-len(raw) % 4))
        self._length += len(raw) + (-len(raw) % 4)
        return len(self.json["bufferViews"]) - 1

    def mostly_still(self, moves: np.ndarray) -> int:
        """Append `(n, 3) float32` moves as a sparse accessor where most rows are 0, else as a whole one; return it."""
        rows = np.flatnonzero(np.abs(moves).max(axis=1) > 1e-7)
        if len(rows) > 0.7 * len(moves):
            return self.accessor(moves, "VEC3", 34962, bounds=True)
        kept = moves[rows]
        low, high = np.minimum(kept.min(axis=0, initial=0), 0), np.maximum(kept.max(axis=0, initial=0), 0)
        entry: dict[str, Any] = {"componentType": 5126, "count": len(moves), "type": "VEC3", "min": low.tolist(), "max": high.tolist()}
        if len(rows):
            places = self.accessor(rows.astype(np.uint32), "SCALAR")
            values = self.accessor(kept.astype(np.float32), "VEC3")
            views = [self.json["accessors"].pop()["bufferView"] for _ in (values, places)][::-1]
            entry["sparse"] = {"count": len(rows), "indices": {"bufferView": views[0], "componentType": 5125},
                               "values": {"bufferView": views[1]}}
        self.json["accessors"].append(entry)
        return len(self.json["accessors"]) - 1

    def bytes(self) -> bytes:
        """Return the file."""
        self.json["buffers"] = [{"byteLength": self._length}]
        text = json.dumps(self.json, separators=(",", ":"), allow_nan=False).encode()
        text += b" " * (-len(text) % 4)
        total = 12 + 8 + len(text) + 8 + self._length
        head = struct.pack("<4sII", b"glTF", 2, total) + struct.pack("<I4s", len(text), b"JSON") + text
        return b"".join([head, struct.pack("<I4s", self._length, b"BIN\0"), *self._chunks])


class GlbReader:
    """A parsed .glb: `json` and arrays by accessor. Only the embedded buffer is read; nothing is fetched."""

    def __init__(self, data: bytes, name: str) -> None:
        self.name = name
        if not data:
            raise InputError(what="the file is empty", where=name, todo=_TODO)
        if len(data) < 20 or data[:4] != b"glTF":
            raise InputError(what="it is not a binary glTF file", where=name, todo=_TODO)
        _, version, total = struct.unpack_from("<4sII", data)
        if version != 2 or total > len(data):
            raise InputError(what=f"the file says {total} bytes and holds {len(data)}" if version == 2 else f"glTF version {version}",
                             where=name, todo="The file is cut off or too old: export it again.")
        length, kind = struct.unpack_from("<I4s", data, 12)
        if kind != b"JSON" or 20 + length > len(data):
            raise self._damaged("its first part is not JSON")
        try:
            self.json = json.loads(data[20:20 + length])
        except ValueError:
            raise self._damaged("its JSON cannot be read") from None
        if not isinstance(self.json, dict):
            raise self._damaged("its JSON is not an object")
        at = 20 + length
        self._bin = data[at + 8: at + 8 + struct.unpack_from("<I", data, at)[0]] if at + 8 <= len(data) else b""

    def _damaged(self, what: str) -> InputError:
        return InputError(what=what, where=self.name, todo=_TODO)

    def array(self, index: int) -> np.ndarray:
        """Return accessor `index` as `(count, width)` (or `(count,)` for scalars); raises `InputError` when out of bounds."""
        try:
            a = self.json["accessors"][index]
            dtype, width, count = np.dtype(_DTYPE[a["componentType"]]), _WIDTH[a["type"]], int(a["count"])
            if "bufferView" in a:
                out = self._view(a["bufferView"], int(a.get("byteOffset", 0)), dtype, width, count).copy()
            elif 0 <= count <= _MOST:
                out = np.zeros((count, width), dtype)
            else:
                raise self._damaged(f"accessor {index} asks for {count} rows")
            if "sparse" in a:
                self._fill(out, a["sparse"], dtype, width)
        except (KeyError, IndexError, TypeError, ValueError):
            raise self._damaged(f"accessor {index} is damaged") from None
        if dtype == np.float32 and not np.isfinite(out).all():
            raise InputError(what=f"accessor {index} holds numbers that are not finite", where=self.name,
                             todo="Find and delete the broken points in the program it came from, then export again.")
        return out[:, 0] if a["type"] == "SCALAR" else out

    @property
    def embedded(self) -> bytes:
        """The buffer inside the file."""
        return self._bin

    def view_bytes(self, index: object) -> bytes:
        """Return the bytes of a buffer view, such as a picture."""
        try:
            view = self.json["bufferViews"][index]
            start, length = int(view.get("byteOffset", 0)), int(view["byteLength"])
        except (KeyError, IndexError, TypeError, ValueError, AttributeError):
            raise self._damaged(f"there is no buffer view {index}") from None
        if start < 0 or length < 0 or start + length > len(self._bin):
            raise self._damaged(f"buffer view {index} asks for {start + length} bytes of {len(self._bin)}")
        return self._bin[start:start + length]

    def _view(self, index: int, offset: int, dtype: np.dtype, width: int, count: int) -> np.ndarray:
        view = self.json["bufferViews"][index]
        start = int(view.get("byteOffset", 0)) + offset
        stride = int(view.get("byteStride", 0)) or dtype.itemsize * width
        end = start + stride * (count - 1) + dtype.itemsize * width if count else start
        if count < 0 or start < 0 or stride < dtype.itemsize * width or end > len(self._bin):
            raise self._damaged(f"buffer view {index} asks for {end} bytes of {len(self._bin)}")
        return np.ndarray((count, width), dtype, self._bin, start, (stride, dtype.itemsize))

    def _fill(self, out: np.ndarray, sparse: dict[str, Any], dtype: np.dtype, width: int) -> None:
        """Put the rows of a sparse accessor in place."""
        count, where, values = int(sparse["count"]), sparse["indices"], sparse["values"]
        rows = self._view(where["bufferView"], int(where.get("byteOffset", 0)), np.dtype(_DTYPE[where["componentType"]]), 1, count)[:, 0]
        if count and int(rows.max()) >= len(out):
            raise self._damaged(f"a sparse row {int(rows.max())} lies beyond {len(out)}")
        out[rows.astype(np.int64)] = self._view(values["bufferView"], int(values.get("byteOffset", 0)), dtype, width, count)
