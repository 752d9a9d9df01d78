"""A wearer as the database tells it."""

from collections.abc import Mapping

from ..core.figure.base.body import Wearer, shape_values, shaped
from ..store.productions.bodies import body_for


def wearer_as(body: str | None, shape: Mapping[str, float], level: int = 2) -> Wearer:
    """Return a body of one's own, or the house's figure at `level`, in a shape."""
    base = body_for(body, shape, level)
    return shaped(base, shape_values(base, shape))
