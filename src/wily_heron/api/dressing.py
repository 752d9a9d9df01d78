"""Dressed wearers kept between requests, so that moving from pose to pose measures and nothing else."""

from collections.abc import Sequence
from threading import Lock

from ..core.clearance.cell import Dressed
from ..core.errors import InputError
from ..core.figure.base.body import shape_values, shaped
from ..core.memo import Memo
from ..core.model.layer_names import layer_names
from ..core.model.model import Texture
from ..formats.textures import read_texture
from ..store.arrays import piece_textures
from ..store.bodies import body_for
from ..store.db import get_blob, transaction
from ..store.pieces import piece_at
from .schemas import ShownPiece

_KEPT: Memo[tuple[Dressed, Lock]] = Memo("dressed wearers", 512 * 2**20)


def worn(rows: list[dict], body: str | None = None, unfinished: bool = False) -> list[tuple[str, str]]:
    """Return (name, geometry) from the skin outwards of the pieces made on `body` that stand evaluated, finished where they are to be, or
    all as the steps made them; names are made unique."""
    standing = [row for row in sorted(rows, key=lambda r: r["rail"])
                if row["status"] == "done" and row["geometry_sha"] and row["recipe"].get("body", "") == (body or "")]
    shas = [row["geometry_sha" if unfinished else "worn_sha"] for row in standing]
    return list(zip(layer_names(row["name"] for row in standing), shas, strict=True))


def shown(rows: list[dict], asked: Sequence[ShownPiece]) -> list[tuple[str, str]]:
    """Return (name, geometry) from the skin outwards of the pieces a client shows, as it shows them; names are made unique.

    Raises `InputError` for a piece that is not on the rail, or a geometry that is no longer kept.
    """
    known = {row["id"]: row for row in rows}
    gone = [one.piece for one in asked if one.piece not in known]
    if gone:
        raise InputError(what=f"there is no piece {gone[0]} on the rail", where="this cell", todo="Load the page again.")
    standing = sorted(asked, key=lambda one: known[one.piece]["rail"])
    return list(zip(layer_names(known[one.piece]["name"] for one in standing), (one.geometry for one in standing), strict=True))


def textures_of(sha: str) -> list[Texture]:
    """Return the textures of the piece stored under `sha`."""
    with transaction() as connection:
        held = piece_textures(get_blob(connection, sha))
        return [read_texture(get_blob(connection, at), name) for name, at in held.items()]


def dressed_for(body_sha: str | None, shape: dict[str, float], pieces: list[tuple[str, str]]) -> tuple[Dressed, Lock]:
    """Return the dressed wearer for these settings and pieces, and the lock to hold while measuring on it."""
    key = (body_sha, tuple(sorted((n, round(v, 4)) for n, v in shape.items() if v)), tuple(pieces))

    def dress() -> tuple[Dressed, Lock]:
        body = body_for(body_sha, shape)
        return Dressed(shaped(body, shape_values(body, shape)), {name: piece_at(sha) for name, sha in pieces}), Lock()

    return _KEPT.of(key, dress)
