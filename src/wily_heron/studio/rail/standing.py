"""A piece as it stands, and the wearer it is made on: what the bench works on."""

from dataclasses import dataclass

from ...core.bench.evaluate import Source, evaluate
from ...core.bench.recipe import Recipe
from ...core.errors import InputError
from ...core.figure.base.body import Wearer
from ...core.memo import Memo
from ...core.model.model import Model
from ...core.model.state import Piece
from ...store.blobs.models import get_model
from ...store.db import transaction
from ...store.productions.bodies import body_for, carrier_of
from ...store.rail.pieces import PieceRow, get_piece, piece_at
from ..wearer import wearer_as

_MODELS: Memo[Model] = Memo("received models", 256 * 2**20)


@dataclass(frozen=True)
class Standing:
    """A piece as its steps have made it."""

    row: PieceRow
    piece: Piece

    @property
    def recipe(self) -> Recipe:
        """What it was made by."""
        return self.row.recipe

    def wearer(self) -> Wearer:
        """Return the wearer it is made on."""
        return wearer_of(self.recipe)

    def bound(self) -> "Standing":
        """Return it itself. Raises `InputError` if it is not bound."""
        if self.piece.skin is None:
            raise InputError(what="the piece is not bound yet", where=self.row.name, todo="Bind it first.")
        return self


def standing(piece: int) -> Standing:
    """Return a piece as it stands. Raises `InputError` while it is being worked out."""
    with transaction() as connection:
        row = get_piece(connection, piece)
    if row.geometry is None:
        raise InputError(what="it is still being worked out, or its last step failed", where=row.name,
                         todo="Wait until the bench shows its figures, or undo the last step.")
    return Standing(row, piece_at(row.geometry))


def after(piece: int, kinds: tuple[str, ...]) -> Standing:
    """Return a piece as it is after the steps of `kinds` alone."""
    with transaction() as connection:
        row = get_piece(connection, piece)
    recipe = row.recipe
    early = recipe.model_copy(update={"steps": tuple(s for s in recipe.steps if s.kind in kinds)})
    source = Source(model_at(row.source), row.source)
    return Standing(row, evaluate(source, early, body_for(recipe.body, recipe.made_on), carrier_of))


def wearer_of(recipe: Recipe) -> Wearer:
    """Return the wearer a recipe is made on."""
    return wearer_as(recipe.body, recipe.made_on)


def model_at(sha: str) -> Model:
    """Return the received model stored under `sha`, kept for the next who asks."""

    def read() -> Model:
        with transaction() as connection:
            return get_model(connection, sha)

    return _MODELS.of(sha, read)
