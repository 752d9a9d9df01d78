"""One worker: warms the kernels, then takes jobs until it is told to stop. Start as many as there are cores to give."""

import asyncio
import logging

import structlog

from .queue import app
from .warm import warm


async def _work() -> None:
    async with app.open_async():
        await app.run_worker_async(concurrency=1, wait=True, listen_notify=True, delete_jobs="successful", fetch_job_polling_interval=1.0)


def main() -> None:
    """Run a worker until a signal stops it."""
    logging.basicConfig(level=logging.WARNING)
    warm()
    structlog.get_logger().info("worker ready")
    asyncio.run(_work())


if __name__ == "__main__":
    main()
