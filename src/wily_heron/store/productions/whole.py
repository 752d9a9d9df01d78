"""A production taken whole, with what it needs of the studio, and put into a database."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import psycopg

from ...core.errors import InputError
from ..db import Connection, check_later, check_now, numbers, run
from ..events import notify
from .rows import ROOT, Rows, owned, put_rows, read_rows, renumbered, shared_rows

_BODIES = "own_body"
_OF_THE_STUDIO = ("stock_item",)
"""What pieces may come from, yet do not need: elsewhere there is another stock, so that they come from nothing there."""


@dataclass(frozen=True)
class Whole:
    """The rows of a production, and those of bodies of one's own that are worn in it."""

    rows: Rows
    bodies: Rows = field(default_factory=lambda: {})


def whole(connection: Connection, production: int) -> Whole:
    """Return all rows of a production and the bodies that they name."""
    kept = read_rows(connection, production)
    worn = {row["body_sha"] for row in kept["wearer"] if row["body_sha"]}
    return Whole(kept, {_BODIES: shared_rows(connection, _BODIES, "sha", worn)})


def put_whole(connection: Connection, kept: Whole, name: str, from_elsewhere: bool) -> int:
    """Put a production in beside all others, with numbers of its own; return its number. The blobs that it needs must be there.

    Raises `InputError` where rows do not fit this database, or one another.
    """
    try:
        moved, anew = renumbered(connection, _fitting(connection, kept.rows, from_elsewhere))
        production = next(iter(anew[ROOT].values()))
        moved[ROOT] = [{"id": production, "name": name}]
        check_later(connection)
        for row in kept.bodies.get(_BODIES, []):
            put_rows(connection, _BODIES, [{**row, "production_id": production}], over=False)
        for table, all_ in moved.items():
            put_rows(connection, table, all_)
        check_now(connection)
    except (psycopg.DataError, psycopg.IntegrityError, psycopg.ProgrammingError, KeyError, TypeError, StopIteration) as error:
        why = f"row {error} is missing" if isinstance(error, KeyError) else str(error).strip().splitlines()[0]
        raise InputError(what=f"its rows do not fit together ({why})", where="the archive", todo="Archive the production again.") from None
    notify(connection, "productions")
    return production


def work_left(connection: Connection, production: int, anew: bool) -> list[int]:
    """Return the edits of a production that wait to be evaluated; `anew`: all do, for they come of another figure."""
    if anew:
        run(connection, "evaluate_production_anew", production=production)
    return numbers(connection, "waiting_edits_of", production=production)


def _fitting(connection: Connection, kept: Rows, from_elsewhere: bool) -> Rows:
    """Return the rows of tables that belong to a production; what comes from elsewhere lets go of that studio's stock."""
    own = owned(connection)
    if stranger := next((table for table in kept if table not in own.by), None):
        raise InputError(what=f"it has rows of {stranger}, which is no table of a production here", where="the archive",
                         todo="Update this installation: a newer one has written it.")
    fitting = {table: kept.get(table, []) for table in own.by}
    if not from_elsewhere:
        return fitting
    loose = {table: [key.field for key in own.keys_of(table) if key.of in _OF_THE_STUDIO] for table in fitting}
    return {table: [{**row, **dict.fromkeys(loose[table])} for row in all_] for table, all_ in fitting.items()}


def hang_copies(connection: Connection, production: int, pieces: list[dict[str, Any]], edits: list[dict[str, Any]],
                changed: Callable[[dict[str, Any]], dict[str, Any]]) -> dict[int, int]:
    """Hang copies of pieces in a production with their histories; `changed` gives what is another of each. Return the copies by number."""
    kept = {ROOT: [{"id": production}], "piece": pieces, "edit": edits}
    moved, anew = renumbered(connection, kept, own_number=production)
    check_later(connection)
    put_rows(connection, "piece", [new | changed(old) for new, old in zip(moved["piece"], pieces, strict=True)])
    put_rows(connection, "edit", moved["edit"])
    check_now(connection)
    notify(connection, "outfits")
    return anew.get("piece", {})


def copy_pieces(connection: Connection, production: int, into: int, outfit: int | None = None, piece: int | None = None) -> dict[int, int]:
    """Hang copies of all pieces of an outfit, or of one piece, in the outfit `into`, in their order; each keeps its origin. Return them."""
    state = read_rows(connection, production, ["piece", "edit"])
    mine = [row for row in state["piece"] if row["outfit_id"] == outfit or row["id"] == piece]
    ids = {row["id"] for row in mine}
    rail = max((row["rail"] for row in state["piece"]), default=0)

    def changed(old: dict[str, Any]) -> dict[str, Any]:
        return {"outfit_id": into, "origin_id": old["id"], "origin_edit": old["edit_id"], "rail": rail + old["rail"]}

    return hang_copies(connection, production, mine, [row for row in state["edit"] if row["piece_id"] in ids], changed)
