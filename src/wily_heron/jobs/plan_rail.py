"""The rail while a plan is made: each piece as planned so far, and what the plan has come to, so that it need not be done twice."""

import hashlib
from dataclasses import dataclass
from typing import Any

import orjson
from psycopg.types.json import Jsonb

from ..core.bench.evaluate import Source, evaluate
from ..core.bench.recipe import Recipe
from ..core.finish.finished_piece import finished
from ..core.model.layer_names import layer_names
from ..core.model.state import Piece
from ..core.model.steps.clear import Clear, Hide
from ..store.arrays import piece_bytes
from ..store.bodies import body_for, carrier_of
from ..store.db import Connection, one, put_blob, run, transaction
from ..store.models import get_model, texture_addresses
from ..store.pieces import piece_at


@dataclass(frozen=True)
class Standing:
    """A piece as planned so far: its row, its name among the layers, its recipe, what its steps come to and, finished, what is worn, with
    the address of each."""

    row: dict[str, Any]
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
            row = one(connection, "plan_known", plan=self._plan, key=key)
        return row["value"] if row else None

    def keep(self, key: str, value: dict[str, Any]) -> dict[str, Any]:
        """Keep `value` and return it."""
        with transaction() as connection:
            run(connection, "keep_plan_work", plan=self._plan, key=key, value=Jsonb(value))
        return value

    def go_on(self) -> None:
        """Raise `Stopped` where the plan is not asked for any more."""
        with transaction() as connection:
            row = one(connection, "plan", plan=self._plan)
        if row is None or row["state"] != "planning":
            raise Stopped


def standing_on(rows: list[dict[str, Any]]) -> list[Standing]:
    """Return the pieces of a rail as they stand, from the skin out."""
    rows = sorted(rows, key=lambda row: row["rail"])
    return [Standing(row, name, Recipe.model_validate(row["recipe"]), piece_at(row["geometry_sha"]), row["geometry_sha"],
                     piece_at(row["worn_sha"]), row["worn_sha"])
            for row, name in zip(rows, layer_names(row["name"] for row in rows), strict=True)]


def tried(s: Standing, step: Clear | Hide, rail: list[Standing], memory: Memory) -> Standing:
    """Return a piece of the rail with one step more."""
    recipe = s.recipe.model_copy(update={"steps": (*s.recipe.steps, step)})
    asked = orjson.dumps([s.row["source_sha"], s.sha, step.model_dump(mode="json")])
    key = f"step-{hashlib.sha256(asked).hexdigest()}"
    known = memory.known(key)
    if known is None:
        known = memory.keep(key, _made(s, recipe, {sha: piece for t in rail for sha, piece in ((t.sha, t.piece), (t.worn_sha, t.worn))}))
    return Standing(s.row, s.name, recipe, piece_at(known["sha"]), known["sha"], piece_at(known["worn"]), known["worn"], True)


def _made(s: Standing, recipe: Recipe, here: dict[str, Piece]) -> dict[str, str]:
    """Evaluate a recipe over the pieces `here` by address; return the addresses of what its steps come to and of what is worn."""
    with transaction() as connection:
        model, textures = get_model(connection, s.row["source_sha"]), texture_addresses(connection, s.row["source_sha"])
    piece = evaluate(Source(model, s.row["source_sha"]), recipe, body_for(recipe.body, recipe.made_on), carrier_of,
                     lambda sha: here[sha] if sha in here else piece_at(sha))
    how = recipe.finish
    worn = piece if how is None or how.idle else finished(piece, how)

    def kept(connection: Connection, each: Piece) -> str:
        return put_blob(connection, piece_bytes(each, textures), "piece")

    with transaction() as connection:
        sha = kept(connection, piece)
        return {"sha": sha, "worn": sha if worn is piece else kept(connection, worn)}
