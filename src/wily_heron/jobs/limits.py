"""How long a job may take and how much memory, and how the process that does it tells its worker what it is at."""

import json
import os
from collections.abc import Generator
from contextlib import contextmanager
from dataclasses import asdict, dataclass

PIPE = "WILY_HERON_WORKER_PIPE"
"""Names the file descriptor on which a process tells its worker of its jobs."""


@dataclass(frozen=True)
class Limit:
    """So many seconds a job may take, and so much memory its process may hold meanwhile.

    A piece of a million triangles, the most that is received, takes under 20 s and 2 GB; no honest job comes near these. A job of many
    parts, each kept as it is done, is asked again after its time, so that its limit is how long a worker may be held by it.
    """

    seconds: float = 300.0
    megabytes: int = 4000


@dataclass(frozen=True)
class At:
    """The job that a process is at, and its limits."""

    job: int
    seconds: float
    megabytes: int


def said(line: str) -> At | None:
    """Read what a process said: the job that it has begun, or None for the end of one."""
    told = json.loads(line)
    return At(**told) if told else None


@contextmanager
def at_work(job: int, limit: Limit) -> Generator[None]:
    """Tell the worker of a job while it is done; where no worker listens, do it all the same."""
    pipe = os.environ.get(PIPE)
    if pipe is None:
        yield
        return
    os.write(int(pipe), f"{json.dumps(asdict(At(job, limit.seconds, limit.megabytes)))}\n".encode())
    try:
        yield
    finally:
        os.write(int(pipe), b"null\n")
