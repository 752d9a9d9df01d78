"""Where things lie in a clone, and how commands are run from it."""

import ctypes
import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
VENV = ROOT / ".venv"
CACHE = ROOT / ".cache"
PYTHON = VENV / "bin" / "python"


class LaunchError(Exception):
    """Something the user must mend: one clear line."""


@contextmanager
def stage(name: str) -> Iterator[list[str]]:
    """Print one progress line for a stage, with a note (append to what is given) and its time."""
    sys.stdout.write(f"  {name:<34s}")
    sys.stdout.flush()
    began, note = time.monotonic(), [""]
    try:
        yield note
    except BaseException:
        sys.stdout.write("stopped\n")
        raise
    sys.stdout.write(f"{note[-1]:<30s} {time.monotonic() - began:6.1f} s\n")
    sys.stdout.flush()


def environment(**more: str) -> dict[str, str]:
    """Return the environment for the house's own processes: linear algebra on one thread each, so that the last digits of a result do not
    hang on how many cores there are, and workers do not fight over them; bytecode kept, as compiling it anew takes each a second or two."""
    given = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
    return {**given, "NUMBA_CACHE_DIR": str(CACHE / "numba"), "OMP_WAIT_POLICY": "passive", "GOMP_SPINCOUNT": "2000",
            "OPENBLAS_NUM_THREADS": "1", "PYTHONUNBUFFERED": "1", **more}


def ends_with_parent() -> None:
    """To be run in a child before its program: a killed launcher takes it along, and Ctrl-C is the launcher's alone to handle.

    It gets a process group of its own, not a session: the kernel shares out time between sessions first, so that a worker's lower priority
    would count for nothing."""
    os.setpgid(0, 0)
    ctypes.CDLL("libc.so.6").prctl(1, signal.SIGTERM)


def run(command: Sequence[str | Path], what: str, cwd: Path = ROOT, more: dict[str, str] | None = None) -> str:
    """Run a command quietly and return its output; raises `LaunchError` with the last line of what it said."""
    try:
        done = subprocess.run([str(c) for c in command], cwd=cwd, env=environment(**(more or {})), text=True,
                              stdout=subprocess.PIPE, stderr=subprocess.STDOUT, check=False)
    except FileNotFoundError as missing:
        raise LaunchError(f"{what}: {missing.filename} is not installed") from None
    if done.returncode:
        CACHE.mkdir(exist_ok=True)
        log = CACHE / "last-failure.log"
        log.write_text(done.stdout)
        lines = [line for line in done.stdout.splitlines() if line.strip()]
        raise LaunchError(f"{what}: {explain(done.stdout, lines[-1] if lines else 'it failed')} (all of it in {log})")
    return done.stdout


def explain(output: str, last: str) -> str:
    """Return the plain reason in a command's output where it is one we know."""
    low = output.lower()
    if "no space left" in low:
        return "the disk is full; free some space and start again"
    if any(s in low for s in ("temporary failure in name resolution", "network is unreachable", "connection refused", "could not resolve",
                              "newconnectionerror", "enotfound", "econnrefused", "eai_again", "failed to establish a new connection",
                              "no matching distribution found")):
        return "the package registry cannot be reached; connect to the network for this first install and start again"
    return last[:200]
