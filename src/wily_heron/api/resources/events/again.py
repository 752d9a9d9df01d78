"""The sheet is measured again by itself: soon after the last of some changes, in the productions that are open in a browser."""

import asyncio
from collections.abc import Callable, Iterable
from contextlib import suppress

import structlog

from ....core.errors import NotFound
from ....jobs.queue import ask
from ....studio.changes import Event
from ....studio.desk import Desk
from ....studio.productions.overview import production_id
from ....studio.sheet import trials

_CHANGES = {"piece", "cast", "outfits", "poses", "shots", "wear", "plan", "settings"}
"""What changes the cells of a sheet; whether it did is found by their keys."""
_QUIET = 1.5
"""Seconds without a change until the sheet is measured: a slider that is dragged is one change."""


class Again:
    """Measures the sheets of open productions again once nothing has changed for a moment."""

    def __init__(self, opened: Callable[[], Iterable[int | None]]) -> None:
        self._opened = opened
        self._due: asyncio.Task[None] | None = None

    def heard(self, change: str) -> None:
        """Note a change, an `Event` as JSON."""
        if Event.model_validate_json(change).what in _CHANGES:
            if self._due is not None:
                self._due.cancel()
            self._due = asyncio.create_task(self._soon())

    async def _soon(self) -> None:
        await asyncio.sleep(_QUIET)
        self._due = None  # what is begun is not broken off by the next change
        await asyncio.shield(asyncio.to_thread(self._measure, set(self._opened())))

    def _measure(self, opened: set[int | None]) -> None:
        for production in opened:
            try:
                with suppress(NotFound):  # deleted while a page still shows it
                    trials.again(Desk(production_id(production), "Wily Heron", ask))
            except Exception:  # nobody waits for it; the next change tries again
                structlog.get_logger().exception("measuring again failed", production=production)
