"""One worker: warms the kernels, then takes jobs until it is told to stop. Start as many as there are cores to give."""

import asyncio
import logging
import os

import structlog

from .queue import app
from .warm import AT_START, warm

_BEAT, _DEAD = 3.0, 12.0
"""Seconds between a worker's signs of life, and without one until its job is given to another."""

_YIELD = 10
"""The server and the artist's browser come before it, where they share cores."""


async def _work() -> None:
    async with app.open_async():
        rescuing = asyncio.create_task(_rescue())
        try:
            await app.run_worker_async(concurrency=1, wait=True, listen_notify=True, delete_jobs="successful",
                                       fetch_job_polling_interval=1.0, update_heartbeat_interval=_BEAT, stalled_worker_timeout=_DEAD)
        finally:
            rescuing.cancel()


async def _rescue() -> None:
    """Ask again for the jobs of workers that are no more; every job is safe to run twice."""
    while True:
        await asyncio.sleep(_BEAT)
        try:
            for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=_DEAD):
                structlog.get_logger().warning("a worker died; its job is taken up again", job=job.task_name)
                await app.job_manager.retry_job(job)
        except Exception:  # the database may be away for a moment; the worker itself says so
            structlog.get_logger().exception("looking for jobs of dead workers failed")


def main() -> None:
    """Run a worker until a signal stops it."""
    logging.basicConfig(level=logging.WARNING)
    os.nice(_YIELD)
    warm(AT_START)
    structlog.get_logger().info("worker ready")
    asyncio.run(_work())


if __name__ == "__main__":
    main()
