"""Which bodies a piece may have been made for, and the piece made anew as if it had been made for a likelier one."""

from ..core.bench.evaluate import Source, evaluate
from ..core.bench.recipe import Recipe
from ..core.explain.explain import Refit
from ..core.figure.base.body import shape_values, shaped
from ..core.model.made_for import Candidate, candidates, warning
from ..core.model.model import Model
from ..core.model.state import Piece
from ..core.model.steps.receive import MadeFor, Receive
from ..core.receive.receive import receive
from ..store.bodies import body_for, carrier_of
from ..store.db import Connection, run
from ..store.models import get_model
from ..store.pieces import piece_at


def likeliest(model: Model, recipe: Recipe, cast: list[dict]) -> tuple[dict[str, MadeFor], list[Candidate]]:
    """Return the wearers of the cast by name, and the body the recipe names, and how likely each is, the likeliest first."""
    step = next((s for s in recipe.steps if isinstance(s, Receive)), Receive())
    got = receive(model, step, 1.70)
    known = {w["name"]: MadeFor(name=w["name"], body=w["body_sha"] or "", shape=w["shape"]) for w in cast}
    known.setdefault("The house's figure", MadeFor(name="The house's figure"))
    if step.made_for:
        known.setdefault(step.made_for.name, step.made_for)
    wearers = {}
    for name, who in known.items():
        body = body_for(who.body or None, who.shape, 1)
        wearers[name] = shaped(body, shape_values(body, who.shape))
    return known, candidates(Piece(got.mesh, wearers[next(iter(wearers))].shape, brought=got.brought), wearers)


def refit_of(connection: Connection, production: int, row: dict) -> Refit | None:
    """Return the piece of a row made for the likeliest body, where much speaks against the one it is said to have been made for."""
    recipe = Recipe.model_validate(row["recipe"])
    at = next((i for i, s in enumerate(recipe.steps) if isinstance(s, Receive) and s.made_for), -1)
    if at < 0:
        return None
    step, model = recipe.steps[at], get_model(connection, row["source_sha"])
    assert isinstance(step, Receive)
    assert step.made_for is not None
    known, found = likeliest(model, recipe, run(connection, "cast_of", production=production))
    if warning(step.made_for.name, found) is None:
        return None
    best = known[found[0].name]
    steps = (*recipe.steps[:at], step.model_copy(update={"made_for": best}), *recipe.steps[at + 1 :])
    other = recipe.model_copy(update={"steps": steps})
    source = Source(model, row["source_sha"])
    return Refit(best.name, lambda: evaluate(source, other, body_for(other.body, other.made_on), carrier_of, piece_at))
