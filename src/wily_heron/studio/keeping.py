"""Working copies that nobody asked for: made before what may be regretted."""

from ..core.figure.figure import figure_version
from ..store.db import Connection
from ..store.productions.copies import keep_copy


def keep_before(connection: Connection, production: int, what: str, artist: str) -> None:
    """Keep a production as it stands before something is done to it; nothing where it is as it was in the newest copy."""
    keep_copy(connection, production, f"Before {what}", artist, figure_version(), automatic=True)
