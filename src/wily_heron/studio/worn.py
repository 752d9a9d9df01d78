"""What is worn: the pieces of a body's rail by their names, and wearers kept dressed from one request to the next."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
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
from ..store.productions.wearers import CastRow
from ..store.rail.pieces import piece_at
from ..store.sheet.trials import Worn

_KEPT: Memo[tuple[Dressed, Lock]] = Memo("dressed wearers", 512 * 2**20)


class OnRail(Protocol):
    """A piece as it hangs on a rail."""

    @property
    def id(self) -> int: ...
    @property
    def outfit(self) -> int: ...
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


class Dressable(Protocol):
    """Who can be dressed: the outfit that is on, and the body it is on."""

    @property
    def outfit(self) -> int: ...
    @property
    def body(self) -> str | None: ...


@dataclass(frozen=True)
class Rail:
    """The pieces of an outfit that are made on one body."""

    outfit: int
    body: str | None


Hung = TypeVar("Hung", bound=OnRail)


def hangs_for(piece: OnRail, who: Dressable) -> bool:
    """Return whether a piece hangs on a wearer's rail: in the outfit that is on, and made on that body."""
    return piece.outfit == who.outfit and piece.body == (who.body or "")


def standing_on(rail: Iterable[Hung], who: Dressable) -> list[Hung]:
    """Return the pieces of a wearer's rail that stand evaluated, from the skin outwards."""
    mine = (piece for piece in rail if piece.status == "done" and piece.geometry and hangs_for(piece, who))
    return sorted(mine, key=lambda piece: piece.rail)


def worn(rail: Iterable[OnRail], who: Dressable, unfinished: bool = False) -> Worn:
    """Return (name, geometry) from the skin outwards of what a wearer has on that stands evaluated, finished where it is to be, or all as
    the steps made it; names are made unique."""
    standing = standing_on(rail, who)
    shas = [(piece.geometry if unfinished else piece.worn) or "" for piece in standing]
    return list(zip(layer_names(piece.name for piece in standing), shas, strict=True))


def worn_by(rail: Iterable[OnRail], cast: Iterable[CastRow], outfit: int | None = None) -> dict[str, Worn]:
    """Return what each wearer has on, or would have on in one outfit, by name; those who have nothing on are left out."""
    on = list(rail)
    found = {w.name: worn(on, w if outfit is None else Rail(outfit, w.body)) for w in cast}
    return {name: pieces for name, pieces in found.items() if pieces}


def worn_then(kept: Mapping[str, Worn], name: str, body: str | None) -> Worn:
    """Return what somebody had on when a sheet or a hunt was begun; older ones kept it by body."""
    return kept.get(name) or kept.get(body or "", [])


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
