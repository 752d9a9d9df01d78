"""Pieces and their history: every change is an edit, undo and redo move along them."""

from collections.abc import Mapping
from datetime import datetime
from typing import Any, Literal

from psycopg.types.json import Jsonb
from pydantic import Field

from ...core.bench.recipe import Recipe
from ...core.bench.reports import Reports
from ...core.errors import Conflict, InputError, NotFound
from ...core.finish.finished_piece import finished
from ...core.memo import Memo
from ...core.model.report import report_notes
from ...core.model.state import Piece
from ..blobs.arrays import bytes_piece, piece_bytes
from ..db import Connection, Row, changed, get_blob, number, numbers, one, put_blob, row, rows, run, transaction
from ..events import notify

_PIECES: Memo[Piece] = Memo("stored pieces", 256 * 2**20)
Status = Literal["waiting", "done", "failed"]


class Problem(Row):
    """What is wrong with an edit, where, and what to do."""

    what: str
    where: str
    todo: str


class RailRow(Row):
    """A piece as it hangs on the rail of a body: what its steps make of it, and what is worn of that, finished."""

    id: int
    outfit: int
    name: str
    rail: int
    status: Status
    geometry: str | None
    worn: str | None
    body: str


class PieceRow(Row):
    """A piece with its standing edit; `before` is the geometry of the edit before it. A label says what undo or redo would do.

    A copy names its origin, the outfit that hangs in, and whether it has been changed since. `dressing`: a job is to put it on, or does.
    """

    id: int
    production: int
    outfit: int
    name: str
    category: str
    rail: int
    file_name: str
    source: str
    stock: int | None
    colourway: str | None
    origin: str | None
    origin_outfit: str | None
    origin_changed: bool | None
    dressing: bool
    edit: int
    recipe: Recipe
    label: str
    author: str
    made_at: datetime
    status: Status
    report_kept: Mapping[str, Any] | None = Field(validation_alias="report")
    error: Problem | None
    geometry: str | None
    worn: str | None
    thumb: str | None
    before: str | None
    undo_label: str | None
    redo_label: str | None

    @property
    def body(self) -> str:
        """The body it is made on; "" for the house's figure."""
        return self.recipe.body

    @property
    def report(self) -> Reports:
        """What its steps came to."""
        return Reports.model_validate(self.report_kept or {})

    @property
    def finished(self) -> str | None:
        """The geometry of what is worn, where that is finished; None where it is worn as its steps made it."""
        return self.worn if self.worn != self.geometry else None

    def stands(self) -> bool:
        """Return whether its steps are done."""
        return self.status == "done" and self.geometry is not None


class EditRow(Row):
    """An edit of a piece, whether the piece stands on it or not."""

    id: int
    piece: int
    production: int
    parent: int | None
    recipe: Recipe
    source: str
    status: Status
    geometry: str | None


class MadeRow(Row):
    """A piece that was made from something else: an item of the stock, or a layout."""

    id: int
    name: str
    colourway: str | None = None
    recipe: Recipe


def piece_at(sha: str) -> Piece:
    """Return the piece stored under `sha`, kept for the next who asks."""
    return _PIECES.of(sha, lambda: _read(sha))


def _read(sha: str) -> Piece:
    with transaction() as connection:
        return bytes_piece(get_blob(connection, sha))


def rail_of(connection: Connection, production: int) -> list[RailRow]:
    """Return what hangs on every rail of a production, from the skin outwards."""
    return rows(connection, RailRow, "rail_of", production=production)


def pieces_of(connection: Connection, production: int) -> list[PieceRow]:
    """Return the pieces of a production, the outermost first."""
    return rows(connection, PieceRow, "pieces_of", production=production)


def get_piece(connection: Connection, piece: int) -> PieceRow:
    """Return a piece. Raises `NotFound` if there is none."""
    found = find_piece(connection, piece)
    if found is None:
        raise _none(piece)
    return found


def find_piece(connection: Connection, piece: int) -> PieceRow | None:
    """Return a piece, None if there is none."""
    return row(connection, PieceRow, "piece", piece=piece)


def get_edit(connection: Connection, edit: int) -> EditRow | None:
    """Return an edit, None if its piece is gone and it with it."""
    return row(connection, EditRow, "edit", edit=edit)


def waiting_edits(connection: Connection) -> list[int]:
    """Return the standing edits that are not evaluated."""
    return numbers(connection, "waiting_edits")


def as_it_stands(connection: Connection, sha: str) -> str:
    """Return the address of the piece stored under `sha` as it stands now: it may have been changed since."""
    found = one(connection, "piece_of_geometry", sha=sha)
    return get_piece(connection, found["id"]).geometry or sha if found else sha


def sewn_from(connection: Connection, layout: int) -> list[MadeRow]:
    """Return the pieces that were sewn from a layout, the last first."""
    return rows(connection, MadeRow, "hung_from", layout=layout)


def set_sewn_from(connection: Connection, piece: int, layout: int) -> None:
    """Note the layout a piece was sewn from."""
    run(connection, "cut_from", piece=piece, layout=layout)


def made_from_stock(connection: Connection, item: int) -> list[MadeRow]:
    """Return the pieces on any rail that came from an item of the stock."""
    return rows(connection, MadeRow, "pieces_from_stock", item=item)


def set_stock(connection: Connection, piece: int, item: int) -> None:
    """Note the item of the stock that a piece is of."""
    run(connection, "from_stock", piece=piece, item=item)
    notify(connection, "piece", piece=piece)


def set_colourway(connection: Connection, piece: int, name: str | None) -> None:
    """Note the colourway a piece is in; None: as it came."""
    run(connection, "wear_colourway", piece=piece, name=name)


def add_piece(connection: Connection, production: int, name: str, category: str, file_name: str, source: str, recipe: Recipe,
              author: str, outfit: int | None = None) -> tuple[int, int]:
    """Add a piece as the outermost of an outfit, the production's first if none is named, with its first edit; return `(piece, edit)`."""
    piece = number(connection, "add_piece", production=production, outfit=outfit, name=name, category=category, file_name=file_name)
    return piece, _edit(connection, piece, None, recipe, f"Bring in {name}", author, source)


def change_recipe(connection: Connection, piece: int, recipe: Recipe, label: str, author: str, based_on: int | None,
                  source: str | None = None) -> int:
    """Record a new recipe as an edit on the standing one, made from another `source` if it is given; return the edit.

    Raises `Conflict` when `based_on` is given and someone else has changed the piece since.
    """
    standing = _lock(connection, piece)
    if based_on is not None and based_on != standing:
        raise Conflict(what="the piece has been changed in another window since you opened it", where="this piece",
                       todo="Your view is brought up to date; make the change again on what stands now.")
    return _edit(connection, piece, standing, recipe, label, author, source)


def finish(connection: Connection, edit: EditRow, made: Piece, picture: bytes, textures: Mapping[str, str]) -> None:
    """Store what an edit came to, with its `picture` (a .png) and the addresses of its textures; everyone hears."""
    geometry, thumb = put_blob(connection, piece_bytes(made, textures), "piece"), put_blob(connection, picture, "png")
    store_finished(connection, edit.id, edit.recipe, made, geometry, thumb, textures)
    notify(connection, "piece", piece=edit.piece)


def store_finished(connection: Connection, edit: int, recipe: Recipe, made: Piece, geometry: str, thumb: str,
                   textures: Mapping[str, str]) -> None:
    """Store that an edit came to the piece `made`, kept at `geometry`, with its picture at `thumb`; finished, if its recipe says how."""
    how, reports, whole = recipe.finish, made.reports, None
    if how is not None and not how.idle:
        last = finished(made, how)
        whole, reports = put_blob(connection, piece_bytes(last, textures), "piece"), last.reports
    run(connection, "finish_edit", edit=edit, report=Jsonb(report_notes(reports)), geometry=geometry, finished=whole, thumb=thumb)


def note_reports(connection: Connection, edit: EditRow, so_far: Piece) -> None:
    """Tell what the steps of an edit have found that are done, while the others run; everyone hears."""
    if changed(connection, "note_reports", edit=edit.id, report=Jsonb(report_notes(so_far.reports))):
        notify(connection, "piece", piece=edit.piece)


def fail(connection: Connection, edit: EditRow, problem: Problem) -> None:
    """Store what is wrong with an edit; everyone hears."""
    run(connection, "fail_edit", edit=edit.id, error=Jsonb(problem.model_dump()))
    notify(connection, "piece", piece=edit.piece)


def wait_again(connection: Connection, piece: int, edit: int) -> bool:
    """Let a failed edit wait for another run; return whether it had failed."""
    waits = changed(connection, "wait_again", edit=edit)
    notify(connection, "piece", piece=piece)
    return waits


def undo(connection: Connection, piece: int) -> int:
    """Stand the piece on the edit before; return it. Raises `InputError` at the beginning."""
    return _step(connection, piece, "parent_of", "undo")


def redo(connection: Connection, piece: int) -> int:
    """Stand the piece on the newest edit made from the standing one; return it. Raises `InputError` at the end."""
    return _step(connection, piece, "newest_child_of", "redo")


def evaluate_all_anew(connection: Connection) -> None:
    """Have every edit evaluated anew from its recipe: what they were computed on is another."""
    run(connection, "evaluate_all_anew")


def rename(connection: Connection, piece: int, name: str | None, category: str | None) -> None:
    """Give a piece another name or category; what is None stays. Raises `NotFound` if there is none."""
    _lock(connection, piece)
    run(connection, "change_piece", piece=piece, name=name, category=category)
    notify(connection, "piece", piece=piece)


def drop(connection: Connection, piece: int) -> None:
    """Take a piece off the rail with its history. Raises `NotFound` if there is none."""
    _lock(connection, piece)
    run(connection, "detach_piece", piece=piece)
    run(connection, "drop_piece", piece=piece)
    notify(connection, "piece", piece=piece)


def move(connection: Connection, piece: int, outwards: bool) -> None:
    """Change places with the next piece outwards or inwards on the rail; raises `InputError` at its end."""
    now = get_piece(connection, piece)
    other = one(connection, "next_on_rail", piece=piece, outwards=outwards)
    if other is None:
        end = "outermost" if outwards else "innermost"
        raise InputError(what=f"it is the {end} already", where=f"{now.name} on the rail", todo="Nothing was changed.")
    run(connection, "set_rail", piece=piece, rail=other["rail"])
    run(connection, "set_rail", piece=other["id"], rail=now.rail)
    notify(connection, "piece", piece=piece)


def set_rail(connection: Connection, piece: int, rail: int) -> None:
    """Give a piece its place on the rail: greater is further out."""
    run(connection, "set_rail", piece=piece, rail=rail)
    notify(connection, "outfits")


def _edit(connection: Connection, piece: int, parent: int | None, recipe: Recipe, label: str, author: str, source: str | None) -> int:
    edit = number(connection, "add_edit", piece=piece, parent=parent, recipe=Jsonb(recipe.model_dump(mode="json")), label=label,
                  author=author, source=source)
    _stand(connection, piece, edit)
    return edit


def _step(connection: Connection, piece: int, query: str, way: str) -> int:
    to = one(connection, query, edit=_lock(connection, piece))
    if to is None:
        raise InputError(what=f"there is nothing to {way}", where="this piece", todo="Its history ends here.")
    _stand(connection, piece, to["id"])
    return to["id"]


def _stand(connection: Connection, piece: int, edit: int) -> None:
    run(connection, "stand_on", piece=piece, edit=edit)
    notify(connection, "piece", piece=piece)


def _lock(connection: Connection, piece: int) -> int:
    found = one(connection, "lock_piece", piece=piece)
    if found is None:
        raise _none(piece)
    return found["edit_id"]


def _none(piece: int) -> NotFound:
    return NotFound(what=f"there is no piece {piece}", where="the rail", todo="It may have been taken off in another window.")
