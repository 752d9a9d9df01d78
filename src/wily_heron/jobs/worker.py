"""One worker: a process that does jobs, and this one beside it, which ends it where a job takes too long or too much, is stopped, or is of
something that is gone. A kernel or a file can hold a thread for ever; a process can always be ended. Start as many workers as there are
cores to give."""

import ctypes
import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from threading import Thread
from types import FrameType

import psycopg
import structlog
from psycopg_pool import PoolTimeout

from ..core.errors import StorageError
from ..studio import job_watch
from ..studio.job_watch import Wanted
from .limits import PIPE, At, said

YIELD = 10
"""The server and the artist's browser come before it, where they share cores."""
_LOOK = 0.25
"""Seconds between two looks at the process: it fills memory at some gigabytes a second at most."""
_ASK = 4
"""Looks between two questions to the database whether the job is still wanted."""
_GRACE = {"stop": 3.0, "gone": 15.0}
"""Seconds in which a job that is stopped, or about something that is gone, may end by itself: most do, and keep a process that is warm."""


class Watched:
    """A process at work, what it said it is at, and whether that may go on."""

    def __init__(self, command: list[str], wanted: Callable[[int], Wanted] = job_watch.is_wanted) -> None:
        self._wanted = wanted
        ear, mouth = os.pipe()
        self.process = subprocess.Popen(command, env={**os.environ, PIPE: str(mouth)}, pass_fds=(mouth,), preexec_fn=_ends_with_parent)
        os.close(mouth)
        self._at: tuple[At, float] | None = None
        self._let_go: float | None = None
        self._looks = 0
        Thread(target=self._hear, args=(ear,), daemon=True).start()

    def _hear(self, ear: int) -> None:
        with os.fdopen(ear) as lines:
            for line in lines:
                at = said(line)
                self._let_go = None
                self._at = (at, time.monotonic()) if at else None

    def verdict(self) -> tuple[int, str, bool] | None:
        """Return the job that must end, why, and whether it failed by that; None while all is well."""
        held = self._at
        if held is None:
            return None
        at, since = held
        self._looks += 1
        if time.monotonic() - since > at.seconds:
            return at.job, f"it took longer than {at.seconds / 60:.3g} min", True
        if _megabytes(self.process.pid) > at.megabytes:
            return at.job, f"it took more than {at.megabytes / 1000:.3g} GB of memory", True
        if self._looks % _ASK:
            return None
        wanted = self._wanted(at.job)
        if wanted == "yes":
            return None
        if self._let_go is None:
            self._let_go = time.monotonic()
        if time.monotonic() - self._let_go < _GRACE[wanted]:
            return None
        return at.job, job_watch.STOPPED if wanted == "stop" else "what it was about is gone", False


def main() -> None:
    """Keep a process at work until a signal stops both."""
    os.nice(YIELD)
    command = [sys.executable, "-m", "wily_heron.jobs.process"]
    watched = Watched(command)

    def stop(number: int, frame: FrameType | None) -> None:
        watched.process.terminate()
        try:
            watched.process.wait(6)
        except subprocess.TimeoutExpired:
            watched.process.kill()
        sys.exit(0)

    signal.signal(signal.SIGTERM, stop)
    signal.signal(signal.SIGINT, stop)
    while watched.process.poll() is None:
        time.sleep(_LOOK)
        try:
            found = watched.verdict()
            if found is None:
                continue
            job, why, failed = found
            watched.process.kill()
            watched.process.wait()
            job_watch.note(job, why, failed)
            structlog.get_logger().warning("a job was ended", job=job, why=why)
            watched = Watched(command)
        except (psycopg.Error, PoolTimeout, StorageError):  # the database may be away for a moment: the job is asked about again
            continue
    sys.exit(watched.process.returncode)


def _ends_with_parent() -> None:
    ctypes.CDLL("libc.so.6").prctl(1, signal.SIGKILL)


def _megabytes(pid: int) -> float:
    """Return the memory that a process holds; none for one that has ended."""
    try:
        with open(f"/proc/{pid}/statm") as held:
            return int(held.read().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1e6
    except (OSError, IndexError):
        return 0.0


if __name__ == "__main__":
    main()
