"""Working copies: a production as it stood. Going back puts its rows where they were; the histories of pieces and wearers only grow."""

from collections.abc import Callable
from datetime import datetime
from typing import Any, Literal

from psycopg import sql

from ...core.errors import NotFound
from ..db import Connection, Row, changed, check_later, check_now, existing, number, row, rows, run
from ..events import What, notify
from .rows import ROOT, Rows, drop_others, owned, put_rows, read_rows, rows_as_json, shared_rows
from .whole import hang_copies

_HISTORIES = {"edit", "wearer_edit", "layout_edit"}
"""What came after a working copy stays there to be redone."""
_MEASURED = {ROOT, "working_copy", "trial", "trial_cell", "hunt", "hunt_part", "hunt_found", "wear_run", "wear_row", "plan", "plan_work",
             "bake", "apart", "apart_edit", "production_settings"}
"""What was measured or planned, what is under way, dressed bodies in the stockroom, and settings are no state to go back to."""
_ALL: tuple[What, ...] = ("hello", "layout", "copies")
AUTOMATIC = 20
"""So many automatic copies are kept of a production."""


class CopyLine(Row):
    """A working copy, and how much is in it."""

    id: int
    name: str
    automatic: bool
    author: str
    made_at: datetime
    pieces: int
    wearers: int


class CopyRow(CopyLine):
    """A working copy with its rows, and the version of the figure that its pieces were evaluated on."""

    figure: str
    rows: Rows


_KEEP = sql.SQL("""
    with now as (select {state} as rows),
         newest as (select rows from working_copy where production_id = %(production)s order by id desc limit 1)
    insert into working_copy (production_id, name, automatic, figure, rows, author)
    select %(production)s, %(name)s, %(automatic)s, %(figure)s, now.rows, %(author)s from now
    where not (%(automatic)s and exists (select 1 from newest where newest.rows = now.rows))
    returning id""")
"""The database gathers the rows itself: those of a large production are ten megabytes that need not come here and go back."""

Since = Literal["same", "changed", "gone"]
"""What has become of something since a working copy was made."""


class PieceThen(Row):
    """A piece as it hung in a working copy: the label of its last alteration, its picture, the address of what was worn of it."""

    id: int
    name: str
    rail: int
    outfit: int
    outfit_name: str
    body: str
    label: str
    status: str
    geometry: str | None
    thumb: str | None
    worn: str | None
    since: Since


class WearerThen(Row):
    """A wearer as they stood in a working copy."""

    id: int
    name: str
    shape: dict[str, float]
    body: str | None
    outfit: int
    since: Since


def keep_copy(connection: Connection, production: int, name: str, author: str, figure: str, automatic: bool) -> int | None:
    """Keep a production as it stands; return the copy, or None for an automatic one where nothing has changed since the last."""
    state = rows_as_json(connection, production, [table for table in owned(connection).by if table not in _MEASURED])
    found = connection.execute(_KEEP.format(state=state), {
        "production": production, "name": name, "automatic": automatic, "figure": figure, "author": author}).fetchone()
    if found is None:
        return None
    made = int(found["id"])
    run(connection, "drop_old_copies", production=production, most=AUTOMATIC)
    notify(connection, "copies")
    return made


def copies_of(connection: Connection, production: int) -> list[CopyLine]:
    """Return the working copies of a production, newest first."""
    return rows(connection, CopyLine, "copies_of", production=production)


def get_copy(connection: Connection, production: int, copy: int) -> CopyRow:
    """Return a working copy of a production. Raises `NotFound` if there is none."""
    found = row(connection, CopyRow, "copy", production=production, copy=copy)
    return existing(found, what=f"there is no working copy {copy}", where="the working copies", todo="Open the list again.")


def pieces_then(connection: Connection, production: int, kept: CopyRow) -> list[PieceThen]:
    """Return the pieces of a working copy, outfit by outfit, the outermost first."""
    now = {r["id"]: r["edit_id"] for r in read_rows(connection, production, ["piece"])["piece"]}
    edits = {r["id"]: r for r in kept.rows["edit"]}
    outfits = {r["id"]: r for r in kept.rows["outfit"]}
    found: list[PieceThen] = []
    for r in sorted(kept.rows["piece"], key=lambda r: (outfits[r["outfit_id"]]["place"], -r["rail"], -r["id"])):
        edit = edits[r["edit_id"]]
        since = "gone" if r["id"] not in now else "same" if now[r["id"]] == r["edit_id"] else "changed"
        worn = edit["finished_sha"] or edit["geometry_sha"]
        found.append(PieceThen(id=r["id"], name=r["name"], rail=r["rail"], outfit=r["outfit_id"],
                               outfit_name=outfits[r["outfit_id"]]["name"], body=edit["recipe"].get("body", ""), label=edit["label"],
                               status=edit["status"], thumb=edit["thumb_sha"], geometry=edit["geometry_sha"],
                               worn=worn if edit["status"] == "done" else None, since=since))
    return found


def wearers_then(connection: Connection, production: int, kept: CopyRow) -> list[WearerThen]:
    """Return the cast of a working copy in its order."""
    now = {r["id"]: r["shape"] for r in read_rows(connection, production, ["wearer"])["wearer"]}
    return [WearerThen(id=r["id"], name=r["name"], shape=r["shape"], body=r["body_sha"], outfit=r["outfit_id"],
                       since="gone" if r["id"] not in now else "same" if now[r["id"]] == r["shape"] else "changed")
            for r in sorted(kept.rows["wearer"], key=lambda r: (r["place"], r["id"]))]


def drop_copy(connection: Connection, production: int, copy: int) -> bool:
    """Delete a working copy; return whether there was one."""
    gone = changed(connection, "drop_copy", production=production, copy=copy)
    notify(connection, "copies")
    return gone


def go_back(connection: Connection, production: int, kept: CopyRow) -> None:
    """Put a production back to how it stood in a working copy."""
    check_later(connection)
    state = _with_what_is_there(connection, kept.rows)
    for table, all_ in state.items():
        if table not in _HISTORIES:
            drop_others(connection, table, production, all_)
    for table, all_ in state.items():
        put_rows(connection, table, all_, over=table not in _HISTORIES)
    check_now(connection)
    for what in _ALL:
        notify(connection, what)


def take_outfit(connection: Connection, production: int, kept: CopyRow, outfit: int, into: int) -> None:
    """Hang all pieces of an outfit of a working copy in the outfit `into`, with their histories. Raises `NotFound` for none such."""
    if all(r["id"] != outfit for r in kept.rows["outfit"]):
        raise NotFound(what=f"it holds no outfit {outfit}", where=kept.name, todo="Choose another.")
    mine = {r["id"] for r in kept.rows["piece"] if r["outfit_id"] == outfit}
    _hang(connection, production, kept, mine, lambda old: {"outfit_id": into, "origin_id": None, "origin_edit": None, "rail": old["rail"]})


def take_piece(connection: Connection, production: int, kept: CopyRow, piece: int, name: str, outfit: int) -> int:
    """Hang a piece of a working copy in an outfit, beside what hangs there, with all its history; return it."""
    if all(r["id"] != piece for r in kept.rows["piece"]):
        raise NotFound(what=f"it holds no piece {piece}", where=kept.name, todo="Choose another.")
    change = {"name": name, "rail": number(connection, "place_on_rail", production=production), "outfit_id": outfit, "origin_id": None,
              "origin_edit": None}
    return _hang(connection, production, kept, {piece}, lambda _: change)[piece]


def _hang(connection: Connection, production: int, kept: CopyRow, these: set[int],
          changed: Callable[[dict[str, Any]], dict[str, Any]]) -> dict[int, int]:
    there = _with_what_is_there(connection, {"piece": [r for r in kept.rows["piece"] if r["id"] in these]})
    return hang_copies(connection, production, there["piece"], [r for r in kept.rows["edit"] if r["piece_id"] in these], changed)


def _with_what_is_there(connection: Connection, state: Rows) -> Rows:
    """Return the rows with what they point at in the studio's stock let go where it is gone."""
    asked = {r["stock_id"] for r in state["piece"] if r["stock_id"]}
    there = {r["id"] for r in shared_rows(connection, "stock_item", "id", asked)}
    return {**state, "piece": [{**r, "stock_id": r["stock_id"] if r["stock_id"] in there else None} for r in state["piece"]]}
