"""Whether a cell holds, as its production has settled it."""

from ...core.clearance.figures import Figures
from ...store.productions.settings import Settings


def judged(figures: Figures, settings: Settings) -> Figures:
    """Return the figures of a cell that holds while it shows no more than the production lets it."""
    return figures.model_copy(update={"holds": figures.area_cm2 + figures.holes_cm2 <= settings.holds_cm2})
