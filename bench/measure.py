"""Timing: medians of several runs after a warm-up."""

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Figure:
    """One measured figure; `peer_ms` is what the named peer took for the same work in the same run."""

    name: str
    ms: float
    peer: str = ""
    peer_ms: float | None = None


def median_ms(work: Callable[[], object], runs: int = 7) -> float:
    """Return the median time of `work` in milliseconds over `runs`, one call before them not counted."""
    work()
    times = []
    for _ in range(runs):
        began = time.perf_counter()
        work()
        times.append(1000 * (time.perf_counter() - began))
    return statistics.median(times)
