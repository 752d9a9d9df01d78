"""A production to one open file, and from one."""

from contextlib import suppress
from datetime import UTC, datetime
from typing import IO

from pydantic import ValidationError

from ...core.errors import ComputeError, InputError
from ...core.figure.figure import figure_version
from ...core.model.free_name import free_name
from ...formats.archive import Archive, Manifest, open_archive, write_archive
from ...formats.slug import slug
from ...store.db import Connection, put_blob, schema_name, transaction
from ...store.productions import all_productions as store
from ...store.productions.addresses import blobs_of, contents
from ...store.productions.production import get_production
from ...store.productions.wearers import cast_of
from ...store.productions.whole import Whole, put_whole, whole, work_left
from .. import work
from ..sheet.export import pack_of
from ..work import Ask
from . import overview


def archive(production: int, file: IO[bytes]) -> str:
    """Write a production to a file; return the name that suits it. Raises `NotFound` if there is none."""
    with transaction() as connection:
        row = get_production(connection, production)
        first = next(iter(cast_of(connection, production)), None)
    outfit = {}
    if first is not None:
        with suppress(InputError, ComputeError):  # what is not bound yet cannot be packed; its rows are there all the same
            outfit = {f"outfit-{slug(first.name)}.glb": pack_of(first.id)[1]}
    with transaction() as connection:
        connection.execute("set transaction isolation level repeatable read")
        kept = whole(connection, production)
        everything = {**kept.rows, **kept.bodies}
        manifest = Manifest(production=row.name, made_at=datetime.now(UTC), schema_name=schema_name(), figure=figure_version())
        write_archive(file, manifest, everything, contents(connection, blobs_of(connection, everything)), outfit)
    return f"{slug(row.name)}.heron.zip"


def unpack(file: IO[bytes], name: str, ask: Ask) -> int:
    """Put an archived production in beside all others, whole or not at all; return it. Raises `InputError` for a file that is none."""
    with open_archive(file, name) as found, transaction() as connection:
        production = _put(connection, found, name)
        waiting = work_left(connection, production, anew=found.manifest.figure != figure_version())
    for edit in waiting:
        ask(work.evaluate(edit))
    return production


def _put(connection: Connection, found: Archive, name: str) -> int:
    if found.manifest.schema_name > schema_name():
        raise InputError(what="a newer installation has written it", where=name, todo="Update this installation.")
    for _, kind, data in found.blobs():
        put_blob(connection, data, kind)
    rows = found.rows()
    bodies = {"own_body": rows.pop("own_body", [])}
    free = free_name((p.name for p in store.productions(connection)), found.manifest.production)
    production = put_whole(connection, Whole(rows, bodies), free, from_elsewhere=True)
    try:
        overview.read(connection, production)
    except (ValidationError, ValueError, TypeError) as error:
        why = str(error).strip().splitlines()[0]
        raise InputError(what=f"what it holds cannot be read ({why})", where=name, todo="Archive the production again.") from None
    return production
