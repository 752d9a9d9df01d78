"""Pieces and their history: every change is an edit, undo and redo move along them."""

from collections.abc import Mapping
from typing import Any

from psycopg.types.json import Jsonb

from ..core.bench.recipe import Recipe
from ..core.errors import Conflict, InputError, NotFound
from ..core.finish.finished_piece import finished
from ..core.memo import Memo
from ..core.model.state import Piece
from .arrays import bytes_piece, piece_bytes
from .db import Connection, get_blob, one, put_blob, run, transaction
from .events import notify

_PIECES: Memo[Piece] = Memo("stored pieces", 256 * 2**20)


def piece_at(sha: str) -> Piece:
    """Return the piece stored under `sha`, kept for the next who asks."""
    return _PIECES.of(sha, lambda: _read(sha))


def _read(sha: str) -> Piece:
    with transaction() as connection:
        return bytes_piece(get_blob(connection, sha))


def add_piece(connection: Connection, production: int, name: str, category: str, file_name: str, source_sha: str, recipe: Recipe,
              author: str) -> tuple[int, int]:
    """Add a piece as the outermost of the rail with its first edit; return `(piece, edit)`."""
    piece = run(connection, "add_piece", production=production, name=name, category=category, file_name=file_name)[0]["id"]
    edit = run(connection, "add_edit", piece=piece, parent=None, recipe=Jsonb(recipe.model_dump(mode="json")),
               label=f"Bring in {name}", author=author, source=source_sha)[0]["id"]
    run(connection, "stand_on", piece=piece, edit=edit)
    notify(connection, "piece", piece=piece)
    return piece, edit


def change_recipe(connection: Connection, piece: int, recipe: Recipe, label: str, author: str, based_on: int | None,
                  source: str | None = None) -> int:
    """Record a new recipe as an edit on the standing one, made from another `source` if it is given; return the edit.

    Raises `Conflict` when `based_on` is given and someone else has changed the piece since.
    """
    standing = _lock(connection, piece)
    if based_on is not None and based_on != standing:
        raise Conflict(what="the piece has been changed in another window since you opened it", where="this piece",
                         todo="Your view is brought up to date; make the change again on what stands now.")
    edit = run(connection, "add_edit", piece=piece, parent=standing, recipe=Jsonb(recipe.model_dump(mode="json")), label=label,
               author=author, source=source)[0]["id"]
    run(connection, "stand_on", piece=piece, edit=edit)
    notify(connection, "piece", piece=piece)
    return edit


def finish(connection: Connection, piece: int, edit: int, made: Piece, picture: bytes, textures: Mapping[str, str]) -> None:
    """Store what an edit of a piece came to, with its `picture` (a .png) and the addresses of its textures; everyone hears."""
    geometry, thumb = put_blob(connection, piece_bytes(made, textures), "piece"), put_blob(connection, picture, "png")
    store_finished(connection, edit, made, geometry, thumb, textures)
    notify(connection, "piece", piece=piece)


def store_finished(connection: Connection, edit: int, made: Piece, geometry: str, thumb: str, textures: Mapping[str, str]) -> None:
    """Store that an edit came to the piece `made`, kept at `geometry`, with its picture at `thumb`; finished, if its recipe says how."""
    row = one(connection, "edit", edit=edit)
    how, report, whole = Recipe.model_validate(row["recipe"]).finish if row else None, made.report, None
    if how is not None and not how.idle:
        last = finished(made, how)
        whole, report = put_blob(connection, piece_bytes(last, textures), "piece"), last.report
    run(connection, "finish_edit", edit=edit, report=Jsonb(report), geometry=geometry, finished=whole, thumb=thumb)


def undo(connection: Connection, piece: int) -> int:
    """Stand the piece on the edit before; return it. Raises `InputError` at the beginning."""
    row = one(connection, "parent_of", edit=_lock(connection, piece))
    return _stand(connection, piece, row["parent_id"] if row else None, "There is nothing to undo")


def redo(connection: Connection, piece: int) -> int:
    """Stand the piece on the newest edit made from the standing one; return it. Raises `InputError` at the end."""
    row = one(connection, "newest_child_of", edit=_lock(connection, piece))
    return _stand(connection, piece, row["id"] if row else None, "There is nothing to redo")


def renew_for(connection: Connection, figure: str) -> bool:
    """Have every edit evaluated anew if this database's pieces were computed on another figure; return whether they are."""
    row = one(connection, "computed_on", what="figure")
    if row and row["version"] == figure:
        return False
    run(connection, "set_computed_on", what="figure", version=figure)
    run(connection, "evaluate_all_anew")
    return True


def drop(connection: Connection, piece: int) -> None:
    """Take a piece off the rail with its history."""
    _lock(connection, piece)
    run(connection, "detach_piece", piece=piece)
    run(connection, "drop_piece", piece=piece)
    notify(connection, "piece", piece=piece)


def move(connection: Connection, piece: int, outwards: bool) -> None:
    """Change places with the next piece outwards or inwards on the rail; raises `InputError` at its end."""
    row = get_piece(connection, piece)
    other = one(connection, "next_on_rail", piece=piece, outwards=outwards)
    if other is None:
        end = "outermost" if outwards else "innermost"
        raise InputError(what=f"it is the {end} already", where=f"{row['name']} on the rail", todo="Nothing was changed.")
    run(connection, "set_rail", piece=piece, rail=other["rail"])
    run(connection, "set_rail", piece=other["id"], rail=row["rail"])
    notify(connection, "piece", piece=piece)


def get_piece(connection: Connection, piece: int) -> dict[str, Any]:
    """Return the piece's row with its standing edit; raises `InputError` for an unknown piece."""
    row = one(connection, "piece", piece=piece)
    if row is None:
        raise NotFound(what=f"there is no piece {piece}", where="the rail", todo="It may have been taken off in another window.")
    return row


def _lock(connection: Connection, piece: int) -> int:
    row = one(connection, "lock_piece", piece=piece)
    if row is None:
        raise NotFound(what=f"there is no piece {piece}", where="the rail", todo="It may have been taken off in another window.")
    return row["edit_id"]


def _stand(connection: Connection, piece: int, edit: int | None, nothing: str) -> int:
    if edit is None:
        raise InputError(what=nothing.lower(), where="this piece", todo="Its history ends here.")
    run(connection, "stand_on", piece=piece, edit=edit)
    notify(connection, "piece", piece=piece)
    return edit
