"""What requests have in common: the production they are about, and the artist who makes them."""

from typing import Annotated

from fastapi import Depends, Header, Query

from ..jobs.queue import ask
from ..studio.desk import Desk
from ..studio.productions.overview import production_id


def _artist(x_artist: Annotated[str, Header(alias="X-Artist", max_length=60)] = "Artist") -> str:
    return x_artist


def _production(production: Annotated[int | None, Query(description="The one opened last if none is named.")] = None) -> int:
    return production_id(production)


ProductionId = Annotated[int, Depends(_production)]
"""The number of the production that a request is about. A route that takes it is answered by 404 where there is none."""
Artist = Annotated[str, Depends(_artist)]
"""The name under which a change is kept: the request's header X-Artist."""


def _desk(production: ProductionId, artist: Artist) -> Desk:
    return Desk(production, artist, ask)


AtDesk = Annotated[Desk, Depends(_desk)]
"""The artist's place in the production."""
