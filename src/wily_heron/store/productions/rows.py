"""All rows of a production, whatever table they stand in.

The schema itself says what belongs to it, so that a table of a later migration is copied and archived without a word here.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any, cast

from psycopg import sql
from psycopg.types.json import Jsonb

from ..db import Connection, Row, numbers, rows, run

Rows = dict[str, list[dict[str, Any]]]
"""Rows as JSON, by table."""
ROOT = "production"
_COPY, _STATE = "working_copy", "rows"
_NUMBERS_IN = {"plan": {"cell": ("wearer",), "lines": ("piece",), "cells": ("wearer",), "edits": ("piece", "based_on", "edit")}}
"""JSON that names rows by their numbers: fields of its objects, by table and column."""
_MEANS = {"wearer": "wearer", "piece": "piece", "based_on": "edit", "edit": "edit"}


class Key(Row):
    """A foreign key: the field of a table that points at a row of another, and whether it is deleted along with that."""

    held_by: str
    field: str
    of: str
    key: str
    goes_along: bool


@dataclass(frozen=True)
class Owned:
    """The tables whose rows belong to a production, it first, each with the key by which they do; and all keys of the schema."""

    by: dict[str, Key | None]
    keys: tuple[Key, ...]

    def keys_of(self, table: str) -> list[Key]:
        """Return the keys that a table holds."""
        return [key for key in self.keys if key.held_by == table]


def owned(connection: Connection) -> Owned:
    """Return what belongs to a production: whatever is deleted along with it, directly or by way of another table."""
    keys = tuple(rows(connection, Key, "foreign_keys"))
    by: dict[str, Key | None] = {ROOT: None}
    while more := {k.held_by: k for k in keys if k.goes_along and k.of in by and k.held_by not in by}:
        by |= more
    return Owned(by, keys)


def read_rows(connection: Connection, production: int, tables: Iterable[str] | None = None) -> Rows:
    """Return the rows of a production, of all its tables or of some."""
    own = owned(connection)
    return {table: _read(connection, table, _chosen(own, table, production)) for table in (own.by if tables is None else tables)}


def rows_as_json(connection: Connection, production: int, tables: Iterable[str]) -> sql.Composed:
    """Return the expression by which the database itself gathers the rows of some tables of a production, as `read_rows` has them."""
    own = owned(connection)
    parts = [sql.SQL("{}::text, (select coalesce(jsonb_agg(to_jsonb(t) order by {}), '[]') from {} t where {})").format(
        sql.Literal(table), sql.SQL(", ").join(map(sql.Identifier, _primary_key(connection, table))), sql.Identifier(table),
        _chosen(own, table, production)) for table in tables]
    return sql.SQL("jsonb_build_object({})").format(sql.SQL(", ").join(parts))


def shared_rows(connection: Connection, table: str, key: str, values: Iterable[Any]) -> list[dict[str, Any]]:
    """Return the rows of a table that no production owns, by the values of a field."""
    where = sql.SQL("{} = any({})").format(sql.Identifier(key), sql.Literal(sorted(values)))
    return _read(connection, table, where)


def put_rows(connection: Connection, table: str, new: list[dict[str, Any]], over: bool | None = None) -> None:
    """Put rows into a table with the numbers they bring. A row that is there already is an error; or stays, or is replaced (`over`)."""
    if not new:
        return
    fields, keys = [sql.Identifier(name) for name in new[0]], _primary_key(connection, table)
    fresh = [sql.SQL("{0} = excluded.{0}").format(sql.Identifier(name)) for name in new[0] if name not in keys]
    there = sql.SQL("" if over is None else "on conflict do nothing")
    if over and fresh:
        key = sql.SQL(", ").join(map(sql.Identifier, keys))
        there = sql.SQL("on conflict ({}) do update set {}").format(key, sql.SQL(", ").join(fresh))
    connection.execute(
        sql.SQL("insert into {table} ({fields}) overriding system value "
                "select {fields} from jsonb_populate_recordset(null::{table}, {rows}) {there}").format(
            table=sql.Identifier(table), fields=sql.SQL(", ").join(fields), rows=sql.Literal(Jsonb(new)), there=there))


def drop_others(connection: Connection, table: str, production: int, kept: list[dict[str, Any]]) -> None:
    """Delete the rows of a table that belong to a production and are not among these, and what goes along with them."""
    keys = _primary_key(connection, table)
    named = sql.SQL("({})").format(sql.SQL(", ").join(map(sql.Identifier, keys)))
    these = sql.SQL("select {} from jsonb_populate_recordset(null::{}, {})").format(
        sql.SQL(", ").join(map(sql.Identifier, keys)), sql.Identifier(table), sql.Literal(Jsonb([{k: r[k] for k in keys} for r in kept])))
    connection.execute(sql.SQL("delete from {} where {} and {} not in ({})").format(
        sql.Identifier(table), _chosen(owned(connection), table, production), named, these))


def renumbered(connection: Connection, kept: Rows, own_number: int | None = None) -> tuple[Rows, dict[str, dict[int, int]]]:
    """Return rows with numbers of their own in this database, and what became of which number by table; those in working copies too.

    With `own_number` they come into that production, and let go of what did not come along. Else raises `KeyError` where a row points at
    one that did not.
    """
    own = owned(connection)
    copies = [row[_STATE] for row in kept.get(_COPY, [])]
    anew: dict[str, dict[int, int]] = {}
    for table in dict.fromkeys(table for each in (kept, *copies) for table in each):
        ids = list(dict.fromkeys(row["id"] for each in (kept, *copies) for row in each.get(table, []) if "id" in row))
        if ids:
            anew[table] = dict(zip(ids, numbers(connection, "next_numbers", table=table, count=len(ids)), strict=True))
    if own_number is not None:
        anew[ROOT] = dict.fromkeys(anew[ROOT], own_number)
    whole = own_number is None
    moved = _moved(own, kept, anew, whole)
    for row, state in zip(moved.get(_COPY, []), copies, strict=True):
        row[_STATE] = _moved(own, state, anew, whole)
    return moved, anew


def _moved(own: Owned, kept: Rows, anew: Mapping[str, Mapping[int, int]], whole: bool) -> Rows:
    inner = {table: [key for key in own.keys_of(table) if key.of in own.by and key.key == "id"] for table in kept}
    return {table: [_renumbered(table, row, inner[table], anew, whole) for row in all_] for table, all_ in kept.items()}


def _renumbered(table: str, row: Mapping[str, Any], inner: list[Key], anew: Mapping[str, Mapping[int, int]],
                whole: bool) -> dict[str, Any]:
    moved = dict(row)
    if "id" in row:
        moved["id"] = anew[table][row["id"]]
    for key in inner:
        if row.get(key.field) is not None:
            moved[key.field] = anew[key.of][row[key.field]] if whole else anew.get(key.of, {}).get(row[key.field])
    for column, fields in _NUMBERS_IN.get(table, {}).items():
        moved[column] = _in_json(row[column], fields, anew)
    return moved


def _in_json(value: Any, fields: tuple[str, ...], anew: Mapping[str, Mapping[int, int]]) -> Any:
    """Return an object, or a list of them, with the numbers in some of its fields replaced; 0 stands for a row that is gone."""
    if isinstance(value, list):
        return [_in_json(each, fields, anew) for each in cast(list[Any], value)]
    if not isinstance(value, dict):
        return value
    known = cast(dict[str, Any], value)
    return known | {name: anew.get(_MEANS[name], {}).get(known[name], 0) for name in fields if known.get(name) is not None}


def _chosen(own: Owned, table: str, production: int) -> sql.Composable:
    """Return what chooses the rows of a table that belong to a production."""
    key = own.by[table]
    if key is None:
        return sql.SQL("id = {}").format(sql.Literal(production))
    return sql.SQL("{} in (select {} from {} where {})").format(
        sql.Identifier(key.field), sql.Identifier(key.key), sql.Identifier(key.of), _chosen(own, key.of, production))


def _read(connection: Connection, table: str, where: sql.Composable) -> list[dict[str, Any]]:
    order = sql.SQL(", ").join(sql.Identifier(name) for name in _primary_key(connection, table))
    asked = sql.SQL("select to_jsonb(t) as row from {} t where {} order by {}").format(sql.Identifier(table), where, order)
    return [found["row"] for found in connection.execute(asked).fetchall()]


def _primary_key(connection: Connection, table: str) -> list[str]:
    return [found["field"] for found in run(connection, "primary_key", table=table)]
