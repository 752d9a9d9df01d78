"""What is worn: the pieces of a body's rail by their names, and wearers kept dressed from one request to the next."""

from collections.abc import Iterable, Mapping
from threading import Lock
from typing import Protocol, TypeVar

from ..core.clearance.cell import Dressed
from ..core.errors import InputError
from ..core.figure.base.body import shape_values, shaped
from ..core.memo import Memo
from ..core.model.layer_names import layer_names
from ..core.model.model import Texture
from ..formats.images.textures import read_texture
from ..store.blobs.arrays import piece_textures
from ..store.db import get_blob, transaction
from ..store.productions.bodies import body_for
from ..store.rail.pieces import piece_at
from ..store.sheet.trials import Worn

_KEPT: Memo[tuple[Dressed, Lock]] = Memo("dressed wearers", 512 * 2**20)


class OnRail(Protocol):
    """A piece as it hangs on a rail."""

    @property
    def id(self) -> int: ...
    @property
    def name(self) -> str: ...
    @property
    def rail(self) -> int: ...
    @property
    def status(self) -> str: ...
    @property
    def geometry(self) -> str | None: ...
    @property
    def worn(self) -> str | None: ...
    @property
    def body(self) -> str: ...


Hung = TypeVar("Hung", bound=OnRail)


def standing_on(rail: Iterable[Hung], body: str | None) -> list[Hung]:
    """Return the pieces made on `body` that stand evaluated, from the skin outwards."""
    mine = (piece for piece in rail if piece.status == "done" and piece.geometry and piece.body == (body or ""))
    return sorted(mine, key=lambda piece: piece.rail)


def worn(rail: Iterable[OnRail], body: str | None, unfinished: bool = False) -> Worn:
    """Return (name, geometry) from the skin outwards of the pieces made on `body` that stand evaluated, finished where they are to be, or
    all as the steps made them; names are made unique."""
    standing = standing_on(rail, body)
    shas = [(piece.geometry if unfinished else piece.worn) or "" for piece in standing]
    return list(zip(layer_names(piece.name for piece in standing), shas, strict=True))


def worn_by_body(rail: Iterable[OnRail], bodies: Iterable[str | None]) -> dict[str, Worn]:
    """Return what is worn on each body that anything is worn on ("" for the house's figure)."""
    on = list(rail)
    found = {body or "": worn(on, body) for body in bodies}
    return {body: pieces for body, pieces in found.items() if pieces}


def shown(rail: Iterable[OnRail], pieces: Mapping[int, str]) -> Worn:
    """Return (name, geometry) from the skin outwards of the pieces that are shown, each with the geometry it is shown as; names are made
    unique. Raises `InputError` for a piece that is not on the rail."""
    known = {piece.id: piece for piece in rail}
    gone = [number for number in pieces if number not in known]
    if gone:
        raise InputError(what=f"there is no piece {gone[0]} on the rail", where="this cell", todo="Load the page again.")
    standing = sorted(pieces, key=lambda number: known[number].rail)
    return list(zip(layer_names(known[number].name for number in standing), (pieces[number] for number in standing), strict=True))


def dressed(body: str | None, shape: Mapping[str, float], pieces: Worn) -> Dressed:
    """Return a wearer with these settings, dressed in these pieces."""
    base = body_for(body, shape)
    return Dressed(shaped(base, shape_values(base, shape)), {name: piece_at(sha) for name, sha in pieces})


def kept_dressed(body: str | None, shape: Mapping[str, float], pieces: Worn) -> tuple[Dressed, Lock]:
    """Return the dressed wearer, kept so that moving from pose to pose measures and nothing else, and the lock to hold while it does."""
    key = (body, tuple(sorted((n, round(v, 4)) for n, v in shape.items() if v)), tuple(pieces))
    return _KEPT.of(key, lambda: (dressed(body, shape, pieces), Lock()))


def textures_of(sha: str) -> list[Texture]:
    """Return the textures of the piece stored under `sha`."""
    with transaction() as connection:
        held = piece_textures(get_blob(connection, sha))
        return [read_texture(get_blob(connection, at), name) for name, at in held.items()]
