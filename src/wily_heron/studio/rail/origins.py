"""Where a piece comes from: the body it was made for, its textures, and bringing it over to another body."""

from collections.abc import Mapping, Sequence

from ...core.bench.evaluate import Source, evaluate
from ...core.bench.recipe import Recipe
from ...core.errors import InputError
from ...core.explain.explain import Refit
from ...core.model.made_for import Candidate, candidates, warning
from ...core.model.model import Model, Texture
from ...core.model.state import Piece
from ...core.model.steps.receive import MadeFor, Receive
from ...core.receive.receive import receive
from ...formats.beside import plain_name
from ...formats.images.textures import read_texture
from ...store.blobs.models import get_model, put_model
from ...store.db import transaction
from ...store.productions.bodies import body_for, carrier_of
from ...store.productions.wearers import CastRow, cast_of, get_wearer
from ...store.rail import pieces as store
from ...store.rail.pieces import PieceRow, piece_at
from .. import work
from ..desk import Desk
from ..stock.taking_in import STATURE
from ..wearer import wearer_as
from .standing import model_at
from .wearing import put_over

_HOUSE = "The house's figure"


def made_for(production: int, piece: int) -> list[tuple[Candidate, MadeFor, str | None]]:
    """Return the wearers the piece may have been made for, the likeliest first; each with what speaks against it."""
    with transaction() as connection:
        row, cast = store.get_piece(connection, piece), cast_of(connection, production)
    known, found = _likeliest(model_at(row.source), row.recipe, cast)
    return [(candidate, known[candidate.name], warning(candidate.name, found)) for candidate in found]


def relink(desk: Desk, piece: int, beside: Mapping[str, bytes]) -> tuple[list[str], list[str]]:
    """Give a piece the textures it asks for, found by name among the files `beside`; return those found, and those still missing.

    A name is met whole, without its ending, or by the only file where it is the only gap. Raises `InputError` where none is met.
    """
    with transaction() as connection:
        row = store.get_piece(connection, piece)
        model = get_model(connection, row.source)
        missing = model.missing()
        linked = _matched(missing, beside)
        if not linked:
            raise InputError(what=f"none of the {len(beside)} pictures bears the name of a missing texture", where=row.name,
                             todo=f"It asks for {', '.join(missing) or 'none'}.")
        whole = Model(model.mesh, model.skeleton, model.skin, model.morphs, model.deltas, model.clips, (*model.textures, *linked),
                      model.objects, model.triangle_object)
        edit = store.change_recipe(connection, piece, row.recipe, "Find textures again", desk.artist, None, put_model(connection, whole))
    desk.ask(work.evaluate(edit))
    return [t.name for t in linked], list(whole.missing())


def bring_over(desk: Desk, piece: int, wearer: int) -> PieceRow:
    """Put a piece made on one body on another: as it stands now, it rides over, and is fitted, bound and made to follow there."""
    with transaction() as connection:
        made, edit = put_over(connection, store.get_piece(connection, piece), get_wearer(connection, wearer), desk.artist)
        row = store.get_piece(connection, made)
    desk.ask(work.evaluate(edit))
    return row


def refit_of(piece: PieceRow) -> Refit | None:
    """Return a piece made for the likeliest body, where much speaks against the one it is said to have been made for."""
    recipe = piece.recipe
    found_at = [(i, s, s.made_for) for i, s in enumerate(recipe.steps) if isinstance(s, Receive) and s.made_for]
    if not found_at:
        return None
    at, step, origin = found_at[0]
    with transaction() as connection:
        cast = cast_of(connection, piece.production)
    model = model_at(piece.source)
    known, found = _likeliest(model, recipe, cast)
    if warning(origin.name, found) is None:
        return None
    best = known[found[0].name]
    steps = (*recipe.steps[:at], step.model_copy(update={"made_for": best}), *recipe.steps[at + 1 :])
    other = recipe.model_copy(update={"steps": steps})
    source = Source(model, piece.source)
    return Refit(best.name, lambda: evaluate(source, other, body_for(other.body, other.made_on), carrier_of, piece_at))


def _likeliest(model: Model, recipe: Recipe, cast: Sequence[CastRow]) -> tuple[dict[str, MadeFor], list[Candidate]]:
    """Return the wearers of the cast by name, and the body the recipe names, and how likely each is, the likeliest first."""
    step = next((s for s in recipe.steps if isinstance(s, Receive)), Receive())
    got = receive(model, step, STATURE)
    known = {w.name: MadeFor(name=w.name, body=w.body or "", shape=w.shape) for w in cast}
    known.setdefault(_HOUSE, MadeFor(name=_HOUSE))
    if step.made_for:
        known.setdefault(step.made_for.name, step.made_for)
    wearers = {name: wearer_as(who.body, who.shape, 1) for name, who in known.items()}
    return known, candidates(Piece(got.mesh, wearers[next(iter(wearers))].shape, brought=got.brought), wearers)


def _matched(missing: Sequence[str], beside: Mapping[str, bytes]) -> list[Texture]:
    out: list[Texture] = []
    for name in missing:
        plain = plain_name(name)
        found = plain if plain in beside else next((b for b in beside if b.rsplit(".", 1)[0] == plain.rsplit(".", 1)[0]), None)
        if found is None and len(missing) == len(beside) == 1:
            found = next(iter(beside))
        if found is not None:
            out.append(read_texture(beside[found], name))
    return out
