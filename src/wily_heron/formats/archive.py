"""A production in one file: a zip of its rows as JSON, its arrays and pictures under their addresses, and its outfit as glTF.

`manifest.json` names every other file with its size and SHA-256; docs/archive.md tells what is in each.
"""

import hashlib
import zipfile
from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from datetime import datetime
from typing import IO, Any, Literal

import orjson
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ..core.errors import InputError

_MANIFEST = "manifest.json"
_MOST_FILES = 200_000
_MOST_ROWS = 1024 * 2**20
_MOST_BLOB = 2048 * 2**20
_RATIO = 1200
"""Rows of JSON can be a thousand times smaller in a zip than outside; deflate gives no more."""


class ArchivedFile(BaseModel):
    """A file of an archive: its bytes and their SHA-256."""

    bytes: int = Field(ge=0)
    sha256: str = Field(pattern="^[0-9a-f]{64}$")


class Manifest(BaseModel):
    """What an archive is, and what is in it.

    `schema_name` is the newest migration of the database that it comes from, `figure` the version of the figure that its pieces were
    evaluated on.
    """

    model_config = ConfigDict(extra="ignore", frozen=True)
    format: Literal["wily-heron-production"] = "wily-heron-production"
    version: Literal[1] = 1
    production: str
    made_at: datetime
    schema_name: str
    figure: str
    kinds: dict[str, str] = {}
    files: dict[str, ArchivedFile] = {}


class Archive:
    """An open archive. Every file is checked against the manifest as it is read; `InputError` where it does not match."""

    def __init__(self, zipped: zipfile.ZipFile, name: str) -> None:
        self._zip, self._name = zipped, name
        infos = zipped.infolist()
        if len(infos) > _MOST_FILES:
            raise self._wrong(f"it holds {len(infos)} files; the limit is {_MOST_FILES}")
        self._infos = {info.filename: info for info in infos}
        try:
            self.manifest = Manifest.model_validate_json(self._bytes(_MANIFEST, 64 * 2**20))
        except ValidationError as error:
            first = error.errors()[0]
            where = ".".join(map(str, first["loc"]))
            raise self._wrong(f"its manifest is not one of a production ({where}: {first['msg'].lower()})") from None

    def rows(self) -> dict[str, list[dict[str, Any]]]:
        """Return the rows by table."""
        found, left = {}, _MOST_ROWS
        for path in self.manifest.files:
            if path.startswith("rows/") and path.endswith(".json"):
                raw = self._checked(path, left)
                left -= len(raw)
                try:
                    table = orjson.loads(raw)
                except orjson.JSONDecodeError as error:
                    raise self._wrong(f"{path} is not JSON ({error})") from None
                if not isinstance(table, list) or not all(isinstance(row, dict) for row in table):
                    raise self._wrong(f"{path} is not a list of rows")
                found[path[5:-5]] = table
        return found

    def blobs(self) -> Iterator[tuple[str, str, bytes]]:
        """Give address, kind and bytes of each array or picture, one after the other."""
        for path in self.manifest.files:
            if path.startswith("blobs/"):
                sha, data = path[6:], self._checked(path, _MOST_BLOB)
                if hashlib.sha256(data).hexdigest() != sha:
                    raise self._wrong(f"{path} is not what its name says")
                yield sha, self.manifest.kinds.get(sha, "unknown"), data

    def _checked(self, path: str, most: int) -> bytes:
        data, said = self._bytes(path, most), self.manifest.files[path]
        if len(data) != said.bytes or hashlib.sha256(data).hexdigest() != said.sha256:
            raise self._wrong(f"{path} is damaged: its bytes do not match their checksum")
        return data

    def _bytes(self, path: str, most: int) -> bytes:
        info = self._infos.get(path)
        if info is None:
            raise self._wrong(f"{path} is missing")
        if info.file_size > most or info.file_size > _RATIO * (info.compress_size + 1000):
            raise self._wrong(f"{path} swells to {info.file_size / 2**20:.0f} MB when unpacked")
        try:
            with self._zip.open(info) as file:
                return file.read(info.file_size + 1)
        except (zipfile.BadZipFile, NotImplementedError, EOFError, OSError, ValueError, RuntimeError) as error:
            raise self._wrong(f"{path} cannot be unpacked ({error})") from None

    def _wrong(self, what: str) -> InputError:
        return _wrong(what, self._name)


@contextmanager
def open_archive(file: IO[bytes], name: str) -> Iterator[Archive]:
    """Open an archive. Raises `InputError` where it is none."""
    try:
        zipped = zipfile.ZipFile(file)
    except (zipfile.BadZipFile, zipfile.LargeZipFile, OSError, ValueError) as error:
        raise _wrong(f"it is not a zip ({error})", name) from None
    with zipped:
        yield Archive(zipped, name)


def write_archive(file: IO[bytes], manifest: Manifest, rows: Mapping[str, list[dict[str, Any]]], blobs: Iterable[tuple[str, str, bytes]],
                  beside: Mapping[str, bytes]) -> None:
    """Write an archive: rows by table, arrays and pictures (address, kind, bytes), and files for other programs by name."""
    files: dict[str, ArchivedFile] = {}
    kinds: dict[str, str] = {}
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED, compresslevel=4) as zipped:

        def put(path: str, data: bytes, how: int = zipfile.ZIP_DEFLATED) -> None:
            zipped.writestr(path, data, how)
            files[path] = ArchivedFile(bytes=len(data), sha256=hashlib.sha256(data).hexdigest())

        for table, found in rows.items():
            put(f"rows/{table}.json", orjson.dumps(found))
        for sha, kind, data in blobs:
            put(f"blobs/{sha}", data, zipfile.ZIP_STORED)  # compressed already
            kinds[sha] = kind
        for name, data in beside.items():
            put(name, data)
        zipped.writestr(_MANIFEST, manifest.model_copy(update={"files": files, "kinds": kinds}).model_dump_json(indent=1))


def _wrong(what: str, name: str) -> InputError:
    return InputError(what=what, where=name, todo="Choose a file that Archive, or ./heron archive, has written.")
