"""The connection to PostgreSQL and the named queries."""

import hashlib
import os
import time
from collections.abc import Generator
from contextlib import contextmanager
from functools import cache
from pathlib import Path
from typing import Any, TypeVar

import orjson
import psycopg
from psycopg.rows import class_row, dict_row
from psycopg.types.json import set_json_loads
from psycopg_pool import ConnectionPool
from pydantic import BaseModel, ConfigDict

from ..core.errors import NotFound, StorageError

HERE = Path(__file__).parent
Connection = psycopg.Connection[dict[str, Any]]
set_json_loads(orjson.loads)  # a sheet is a megabyte of figures


def database_url() -> str:
    """Return the connection string the launcher set; raises `StorageError` without one."""
    url = os.environ.get("WILY_HERON_DATABASE")
    if not url:
        raise StorageError("WILY_HERON_DATABASE is not set; start with ./heron start")
    return url


@cache
def queries() -> dict[str, str]:
    """Return every query by name, read from the .sql files."""
    found: dict[str, str] = {}
    for path in sorted((HERE / "queries").glob("*.sql")):
        for chunk in path.read_text().split("-- name: ")[1:]:
            name, _, text = chunk.partition("\n")
            found[name.strip()] = text
    return found


@cache
def pool() -> ConnectionPool[Connection]:
    """Return the process's pool of connections (autocommit off, rows as dicts)."""
    return ConnectionPool(database_url(), min_size=1, max_size=8, kwargs={"row_factory": dict_row}, open=True,
                          connection_class=psycopg.Connection[dict[str, Any]])


@contextmanager
def transaction() -> Generator[Connection]:
    """Give a connection whose work is kept whole or not at all."""
    with pool().connection() as connection:
        yield connection


def run(connection: Connection, query: str, /, **values: Any) -> list[dict[str, Any]]:
    """Run the named query and return its rows (an empty list for statements without rows)."""
    cursor = connection.execute(queries()[query], values)  # type: ignore[arg-type]
    return cursor.fetchall() if cursor.description else []


def one(connection: Connection, query: str, /, **values: Any) -> dict[str, Any] | None:
    """Run the named query and return its first row or None."""
    rows = run(connection, query, **values)
    return rows[0] if rows else None


class Row(BaseModel):
    """A row as its query names it, its JSON read into types."""

    model_config = ConfigDict(frozen=True)


Found = TypeVar("Found", bound=Row)


def rows(connection: Connection, kind: type[Found], query: str, /, **values: Any) -> list[Found]:
    """Run the named query and return its rows, each as `kind`."""
    with connection.cursor(row_factory=class_row(kind)) as cursor:
        return cursor.execute(queries()[query], values).fetchall()  # type: ignore[arg-type]


def row(connection: Connection, kind: type[Found], query: str, /, **values: Any) -> Found | None:
    """Run the named query and return its first row as `kind`, or None."""
    with connection.cursor(row_factory=class_row(kind)) as cursor:
        return cursor.execute(queries()[query], values).fetchone()  # type: ignore[arg-type]


def existing(found: Found | None, what: str, where: str, todo: str) -> Found:
    """Return what a query found. Raises `NotFound` if that is nothing."""
    if found is None:
        raise NotFound(what=what, where=where, todo=todo)
    return found


def changed(connection: Connection, query: str, /, **values: Any) -> bool:
    """Run the named query and return whether it gave a row: its `returning` says that something was changed."""
    return one(connection, query, **values) is not None


def number(connection: Connection, query: str, /, **values: Any) -> int:
    """Run the named query, which adds a row, and return its `id`."""
    return run(connection, query, **values)[0]["id"]


def numbers(connection: Connection, query: str, /, **values: Any) -> list[int]:
    """Run the named query and return the `id` of each row."""
    return [found["id"] for found in run(connection, query, **values)]


def check_later(connection: Connection) -> None:
    """Check rows that point at one another when the transaction ends, not each as it comes or goes."""
    connection.execute("set constraints all deferred")


def check_now(connection: Connection) -> None:
    """Check what was put off. Raises `psycopg.IntegrityError` where a row points at nothing."""
    connection.execute("set constraints all immediate")


def put_blob(connection: Connection, data: bytes, kind: str) -> str:
    """Keep `data` under its SHA-256, in the caller's transaction, and return the digest."""
    sha = hashlib.sha256(data).hexdigest()
    run(connection, "put_blob", sha=sha, kind=kind, bytes=data)
    return sha


def blob_named(connection: Connection, sha: str, what: str) -> bytes:
    """Return the bytes under an address that somebody asks for. Raises `NotFound` if there is no such `what`, `StorageError` if damaged."""
    if one(connection, "blob_there", sha=sha) is None:
        raise NotFound(what=f"there is no {what} {sha[:12]}", where="the store", todo="Reload the room: it has been changed since.")
    return get_blob(connection, sha)


def get_blob(connection: Connection, sha: str) -> bytes:
    """Return the bytes under an address that a row holds, checked against it; raises `StorageError` if missing or damaged."""
    row = one(connection, "blob", sha=sha)
    if row is None:
        raise StorageError(f"blob {sha[:12]} is missing")
    data = bytes(row["bytes"])
    if hashlib.sha256(data).hexdigest() != sha:
        raise StorageError(f"blob {sha[:12]} is damaged: its bytes do not match their checksum")
    return data


def await_schema(seconds: float = 60.0) -> None:
    """Wait until every migration has been applied: what starts beside the launcher's setup asks nothing before. Raises `StorageError` where
    they are not within so many seconds."""
    wanted, until = {path.name for path in (HERE / "migrations").glob("*.sql")}, time.monotonic() + seconds
    while True:
        try:
            with psycopg.connect(database_url()) as connection:
                if wanted <= {row[0] for row in connection.execute("select name from migration").fetchall()}:
                    return
                why = "some migrations have not been applied"
        except psycopg.Error as error:
            why = str(error).strip()
        if time.monotonic() > until:
            raise StorageError(f"the database is not ready ({why}); start with ./heron start")
        time.sleep(0.05)


def schema_name() -> str:
    """Return the newest migration that this installation knows."""
    return max(path.name for path in (HERE / "migrations").glob("*.sql"))


def migrate() -> list[str]:
    """Apply the migrations that have not run yet, each in a transaction; return their names."""
    applied: list[str] = []
    with psycopg.connect(database_url(), autocommit=True) as connection:
        connection.execute("create table if not exists migration (name text primary key, applied_at timestamptz default now())")
        known = {row[0] for row in connection.execute("select name from migration").fetchall()}
        for path in sorted((HERE / "migrations").glob("*.sql")):
            if path.name in known:
                continue
            with connection.transaction():
                connection.execute(path.read_text())  # type: ignore[arg-type]
                connection.execute("insert into migration (name) values (%s)", [path.name])
            applied.append(path.name)
    return applied
