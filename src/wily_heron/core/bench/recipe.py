"""The recipe of a piece: what has been done to it, in working order."""

from itertools import pairwise
from typing import TYPE_CHECKING, Annotated, Union

from pydantic import BaseModel, ConfigDict, Field

from ..errors import InputError
from ..model.steps.alteration import Alteration
from ..model.steps.finish import Finish
from .steps import BENCH, STEPS

BY_KIND = {step.kind: step for step in STEPS}
ORDER = tuple(dict.fromkeys(step.order for step in STEPS))
"""The working order."""

if TYPE_CHECKING:
    AnyAlteration = Alteration
else:
    AnyAlteration = Annotated[Union[tuple(step.model for step in STEPS)], Field(discriminator="kind")]  # noqa: UP007


class Recipe(BaseModel):
    """What has been done to a piece, in working order; the wearer it is made on is part of the recipe.

    `body` is the address of a body of one's own, "" for the house's figure. `finish` is done to what the steps made, for the picture and
    the pack; no step sees it.
    """

    model_config = ConfigDict(extra="forbid")
    body: str = ""
    made_on: dict[str, float] = Field(default_factory=dict)
    steps: tuple[AnyAlteration, ...] = ()
    finish: Finish | None = None


def place_in_order(kind: str) -> int:
    """Return where a kind of alteration stands in the working order.

    >>> place_in_order("fit") < place_in_order("bind") < place_in_order("drape")
    True
    """
    return ORDER.index(BY_KIND[kind].order)


def check_order(recipe: Recipe) -> None:
    """Raise `InputError` unless the steps stand in working order, those that may not be repeated once, each after the one it needs."""
    steps = [BY_KIND[step.kind] for step in recipe.steps]
    for before, after in pairwise(steps):
        late = ORDER.index(before.order) - ORDER.index(after.order)
        if late > 0 or (late == 0 and not after.repeats):
            raise InputError(what=f"the step '{after.order}' cannot come after '{before.order}'", where="the recipe",
                             todo=f"Keep the working order: {', '.join(ORDER)}.")
    made = {step.kind for step in steps}
    missing = next((step for step in steps if step.needs and step.needs not in made), None)
    if missing is not None:
        raise InputError(what="the piece is not bound yet", where=f"the {missing.order} step", todo="Bind it first.")


def catalogue() -> dict:
    """Return what an interface needs to know of the steps, in plain types: those of the bench with their labels, and every kind of
    alteration with its place, what may be repeated, its defaults, and its words if it has any."""
    return {
        "bench": [{"name": name, "label": label} for name, label in BENCH.items()],
        "kinds": [{"kind": step.kind, "bench": step.bench, "repeats": step.repeats, "defaults": _defaults(step.model),
                   **({"words": dict(step.words)} if step.words else {})} for step in STEPS],
    }


def _defaults(model: type[Alteration]) -> dict:
    """Return the fields of a model that have defaults, in plain types; those that are None are left out."""
    named = {name: field.get_default(call_default_factory=True) for name, field in model.model_fields.items() if not field.is_required()}
    return model.model_construct(**named).model_dump(mode="json", include=set(named), exclude_none=True)
