"""An artist's place in a production."""

from dataclasses import dataclass

from .work import Ask


@dataclass(frozen=True)
class Desk:
    """Who works on what: the production, the name under which a change is kept, and how a job is asked for."""

    production: int
    artist: str
    ask: Ask
