"""One worker: warms the kernels, then takes jobs until it is told to stop. Start as many as there are cores to give."""

import asyncio
import itertools
import logging
import os

import structlog

from .lost import DEAD, Lost, rescue
from .queue import app
from .warm import AT_START, warm

_BEAT = 3.0
"""Seconds between a worker's signs of life."""

_SWEEP = 4
"""Beats between two looks for lost work: what is lost is asked for at the second, within half a minute."""

_YIELD = 10
"""The server and the artist's browser come before it, where they share cores."""


async def _work() -> None:
    async with app.open_async():
        rescuing = asyncio.create_task(_watch())
        try:
            await app.run_worker_async(concurrency=1, wait=True, listen_notify=True, delete_jobs="successful",
                                       fetch_job_polling_interval=1.0, update_heartbeat_interval=_BEAT, stalled_worker_timeout=DEAD)
        finally:
            rescuing.cancel()


async def _watch() -> None:
    """Look for jobs of dead workers at every beat, and for lost work at every fourth."""
    lost = Lost()
    for beat in itertools.count(1):
        await asyncio.sleep(_BEAT)
        try:
            await rescue(app)
            for work in await lost.ask_again(app) if beat % _SWEEP == 0 else ():
                structlog.get_logger().warning("work waited without a job; it is asked for again", job=work.task)
        except Exception:  # the database may be away for a moment; the worker itself says so
            structlog.get_logger().exception("looking for lost work failed")


def main() -> None:
    """Run a worker until a signal stops it."""
    logging.basicConfig(level=logging.WARNING)
    os.nice(_YIELD)
    warm(AT_START)
    structlog.get_logger().info("worker ready")
    asyncio.run(_work())


if __name__ == "__main__":
    main()
