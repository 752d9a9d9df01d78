"""The rail while a plan is made: each piece as planned so far, and what the plan has come to, so that it need not be done twice."""

import hashlib
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import orjson

from ...core.bench.evaluate import Source, evaluate
from ...core.bench.recipe import Recipe
from ...core.finish.finished_piece import finished
from ...core.model.layer_names import layer_names
from ...core.model.state import Piece
from ...core.model.steps.clear import Clear, Hide
from ...store.blobs.arrays import piece_bytes
from ...store.blobs.models import texture_addresses
from ...store.db import Connection, put_blob, transaction
from ...store.productions.bodies import body_for, carrier_of
from ...store.rail.pieces import PieceRow, piece_at
from ...store.sheet import plans
from ..rail.standing import model_at


@dataclass(frozen=True)
class Planned:
    """A piece as planned so far: its row, its name among the layers, its recipe, what its steps come to and, finished, what is worn, with
    the address of each."""

    row: PieceRow
    name: str
    recipe: Recipe
    piece: Piece
    sha: str
    worn: Piece
    worn_sha: str
    changed: bool = False


class Stopped(Exception):
    """The plan is not asked for any more."""


class Memory:
    """What plan `plan` has come to, kept under keys from one try to the next."""

    def __init__(self, plan: int) -> None:
        self._plan = plan

    def known(self, key: str) -> dict[str, Any] | None:
        """Return what is kept under `key`, or what a sheet has measured under it."""
        with transaction() as connection:
            return plans.known_work(connection, self._plan, key)

    def keep(self, key: str, value: dict[str, Any]) -> dict[str, Any]:
        """Keep `value` and return it."""
        with transaction() as connection:
            plans.keep_work(connection, self._plan, key, value)
        return value

    def go_on(self) -> None:
        """Raise `Stopped` where the plan is not asked for any more."""
        with transaction() as connection:
            found = plans.get_plan(connection, self._plan)
        if found is None or found.state != "planning":
            raise Stopped


def as_they_stand(pieces: Iterable[PieceRow]) -> list[Planned]:
    """Return the pieces of a rail that stand, as they do, from the skin out."""
    rows = sorted((row for row in pieces if row.stands()), key=lambda row: row.rail)
    return [Planned(row, name, row.recipe, piece_at(row.geometry or ""), row.geometry or "", piece_at(row.worn or ""), row.worn or "")
            for row, name in zip(rows, layer_names(row.name for row in rows), strict=True)]


def tried(s: Planned, step: Clear | Hide, rail: Sequence[Planned], memory: Memory) -> Planned:
    """Return a piece of the rail with one step more."""
    recipe = s.recipe.model_copy(update={"steps": (*s.recipe.steps, step)})
    content = orjson.dumps([s.row.source, s.sha, step.model_dump(mode="json")])
    key = f"step-{hashlib.sha256(content).hexdigest()}"
    known = memory.known(key)
    if known is None:
        known = memory.keep(key, _made(s, recipe, {sha: piece for t in rail for sha, piece in ((t.sha, t.piece), (t.worn_sha, t.worn))}))
    return Planned(s.row, s.name, recipe, piece_at(known["sha"]), known["sha"], piece_at(known["worn"]), known["worn"], True)


def _made(s: Planned, recipe: Recipe, here: Mapping[str, Piece]) -> dict[str, str]:
    """Evaluate a recipe over the pieces `here` by address; return the addresses of what its steps come to and of what is worn."""
    with transaction() as connection:
        textures = texture_addresses(connection, s.row.source)
    piece = evaluate(Source(model_at(s.row.source), s.row.source), recipe, body_for(recipe.body, recipe.made_on), carrier_of,
                     lambda sha: here[sha] if sha in here else piece_at(sha))
    how = recipe.finish
    worn = piece if how is None or how.idle else finished(piece, how)

    def kept(connection: Connection, each: Piece) -> str:
        return put_blob(connection, piece_bytes(each, textures), "piece")

    with transaction() as connection:
        sha = kept(connection, piece)
        return {"sha": sha, "worn": sha if worn is piece else kept(connection, worn)}
