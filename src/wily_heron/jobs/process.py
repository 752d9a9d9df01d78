"""The process that does a worker's jobs: it warms the kernels, then takes jobs until it is told to stop, or ended by its worker."""

import asyncio
import itertools
import logging

import structlog

from ..core.figure.figure import figure
from .lost import DEAD, Lost, end_noted, rescue
from .queue import app
from .warm import AT_START, warm

_BEAT = 3.0
"""Seconds between a worker's signs of life."""

_SWEEP = 4
"""Beats between two looks for lost work: what is lost is asked for at the second, within half a minute."""


async def _work() -> None:
    async with app.open_async():
        rescuing = asyncio.create_task(_watch())
        try:
            await app.run_worker_async(concurrency=1, wait=True, listen_notify=True, delete_jobs="successful",
                                       fetch_job_polling_interval=1.0, update_heartbeat_interval=_BEAT, stalled_worker_timeout=DEAD)
        finally:
            rescuing.cancel()


async def _watch() -> None:
    """Look for jobs that were ended and jobs of dead workers at every beat, and for lost work at every fourth."""
    await asyncio.to_thread(figure, 2)  # a second of reading that the first piece need not wait for
    lost = Lost()
    for beat in itertools.count(1):
        try:
            await end_noted(app)
            await rescue(app)
            for work in await lost.ask_again(app) if beat % _SWEEP == 0 else ():
                structlog.get_logger().warning("work waited without a job; it is asked for again", job=work.task)
        except Exception:  # the database may be away for a moment; the worker itself says so
            structlog.get_logger().exception("looking for lost work failed")
        await asyncio.sleep(_BEAT)


def main() -> None:
    """Do jobs until a signal stops it."""
    logging.basicConfig(level=logging.WARNING)
    warm(AT_START)
    structlog.get_logger().info("worker ready")
    asyncio.run(_work())


if __name__ == "__main__":
    main()
