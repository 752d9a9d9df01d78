"""Finding what shows in a cell: how long it takes on bodies of two finenesses, and what of it is asking from where it is seen."""

import statistics
import time
from collections.abc import Iterator

import wily_heron.core.clearance.find as finder
from bench.clearing import bodies, dressed_in
from bench.measure import Figure
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.figure.body import shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.pose import Pose
from wily_heron.core.figure.pose_library import POSES

_RUNS = 9


def finding() -> Iterator[Figure]:
    """A robe of 10k vertices and a coat, each in a pose that makes work of it, posed anew every time, skinning included."""
    heavy = bodies()["heavy"]
    for kind, name in (("robe", "sit"), ("robe", "kneel"), ("coat", "stride")):
        pieces = dressed_in((kind,), heavy)
        for level in (1, 2):
            wearer = shaped(figure(level), heavy.shape)
            whole, seen = _timed(Dressed(wearer, pieces), POSES[name])
            of = f"{kind} of {len(pieces[kind].mesh.points) / 1000:.0f}k in {name}, body of {len(wearer.points) / 1000:.0f}k"
            yield Figure(f"find: {of}", whole - seen)
            yield Figure("  and from where it is seen", whole)


def _timed(dressed: Dressed, pose: Pose) -> tuple[float, float]:
    """Return the median milliseconds of a cell, and of what of it goes into asking from where what stands out is seen."""
    every, asking, look = [], [], finder._seen
    spent = 0.0

    def watched(*args):
        nonlocal spent
        began = time.perf_counter()
        out = look(*args)
        spent += time.perf_counter() - began
        return out

    finder._seen = watched
    try:
        for run in range(_RUNS + 1):
            dressed.measure(POSES["stand"])  # so that nothing is where the last cell left it
            spent, began = 0.0, time.perf_counter()
            dressed.measure(pose)
            if run:
                every.append(1000 * (time.perf_counter() - began))
                asking.append(1000 * spent)
    finally:
        finder._seen = look
    return statistics.median(every), statistics.median(asking)
