"""The settings of a production: read and changed."""

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
