"""The settings of a production: read, changed, and what they mean for a cell."""

from ...core.clearance.figures import Figures
from ...store.db import transaction
from ...store.productions.settings import Settings, keep_settings, settings_of


def settings(production: int) -> Settings:
    """Return the settings of a production."""
    with transaction() as connection:
        return settings_of(connection, production)


def change(production: int, to: Settings) -> Settings:
    """Keep other settings of a production, and return them."""
    with transaction() as connection:
        keep_settings(connection, production, to)
    return to


def judged(figures: Figures, settings: Settings) -> Figures:
    """Return the figures of a cell that holds while it shows no more than the production lets it."""
    return figures.model_copy(update={"holds": figures.area_cm2 + figures.holes_cm2 <= settings.holds_cm2})
