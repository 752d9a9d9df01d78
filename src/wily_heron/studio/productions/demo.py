"""The demo film: offered while there is no production, and loaded by a process of its own, since it is no part of the product."""

import subprocess
import sys

from ...core.errors import ComputeError, Conflict
from ...shipped import demo_film
from ...store.db import transaction
from ...store.productions import all_productions as store

_SECONDS = 180
"""So long may loading take; a slow machine takes 20 s."""


def is_offered() -> bool:
    """Return whether the demo film is there to load, and no production is, be it in the bin."""
    with transaction() as connection:
        return demo_film() is not None and not store.has_productions(connection)


def load() -> int:
    """Load the demo film; return its production. Raises `Conflict` where there is a production already."""
    if not is_offered():
        raise Conflict(what="the studio holds a production already, or comes without the demo film", where="loading the demo film",
                       todo="Open the production, or start with --reset-demo.")
    try:
        done = subprocess.run([sys.executable, "-m", "demo"], cwd=demo_film(), capture_output=True, text=True, timeout=_SECONDS,
                              check=False)
    except subprocess.TimeoutExpired:
        raise ComputeError(f"loading the demo film took longer than {_SECONDS} s") from None
    if done.returncode:
        raise ComputeError(f"the demo film cannot be loaded: {done.stderr.strip().splitlines()[-1:]}")
    with transaction() as connection:
        return store.productions(connection)[0].id
