"""The suite of the sheet: twenty wearers in twenty poses, ten pieces on each, measured and pictured by two processes; explanations."""

import os
import time
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from functools import lru_cache

import numpy as np

from bench.clearing import EASE, bodies, dressed_in
from bench.measure import Figure
from bench.stock_outfits import TEN, dressed_in_stock
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.clearance.cover.key import SKIN, Key
from wily_heron.core.explain.explain import explain
from wily_heron.core.explain.failing_pair import Case
from wily_heron.core.explain.remedies import Trying
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.base.pose_types import REST
from wily_heron.core.figure.figure import figure
from wily_heron.core.look.portrait import cell_portrait
from wily_heron.core.model.state import Piece
from wily_heron.core.motion.pose_library import POSES
from wily_heron.formats.images.png import write_png

_MANY = 20
_SIZE = (180, 240)


def sheet() -> Iterator[Figure]:
    """Yield how long the sheet takes, its first cell, and a cell's explanation without and with its remedies tried."""
    cores = min(2, os.cpu_count() or 1)
    os.sched_setaffinity(0, range(cores))
    with ProcessPoolExecutor(cores) as pool:
        list(pool.map(_row, [0, 1]))  # each process has its pieces, as a worker has that is at work
        began = time.perf_counter()
        rows = list(pool.map(_row, range(_MANY)))
        took = 1000 * (time.perf_counter() - began)
    failing = sum(failed for failed, _ in rows)
    points = sum(len(p.mesh.points) for p in _pieces().values())
    print(f"\n{_MANY} x {_MANY} cells of {len(TEN)} pieces, {points // 1000}k points on a body of {len(figure(2).base) // 1000}k: "
          f"{failing} cells fail")
    yield Figure(f"the sheet with pictures, {cores} processes", took)
    yield Figure("its first cell, the wearer dressed for it", float(np.median([first for _, first in rows])))
    one, both = [], []
    wearer = shaped(figure(2), next(iter(bodies().values())).shape)
    shirt = dressed_in(("shirt",), shaped(figure(1), {}))
    for pose in _poses():
        if not Dressed(wearer, shirt).measure(pose).figures.holds:
            case = Case(shirt, wearer.body, wearer.shape, pose, Key(0, SKIN))
            began = time.perf_counter()
            list(explain(case))
            one.append(1000 * (time.perf_counter() - began))
            list(Trying(case, EASE, [(wearer.shape, REST)]).all())
            both.append(1000 * (time.perf_counter() - began))
    yield Figure(f"a shirt's failing cell explained, of {len(one)}", float(np.median(one)))
    yield Figure("the same, all its remedies tried", float(np.median(both)))
    os.sched_setaffinity(0, {min(os.sched_getaffinity(0))})


@lru_cache(maxsize=1)
def _pieces() -> dict[str, Piece]:
    return dressed_in_stock(TEN, shaped(figure(), {}))


def _poses() -> list:
    return [pose for name, pose in POSES.items() if name != "rest"][:_MANY]


def _row(number: int) -> tuple[int, float]:
    """Measure and picture a wearer's cells; return how many fail, and the milliseconds till the first was there."""
    shapes = [w.shape for w in bodies().values()]
    shapes += [0.5 * (a + b) for a, b in zip(shapes, shapes[3:], strict=False)]
    began, first, failing = time.perf_counter(), 0.0, 0
    dressed = Dressed(shaped(figure(2), shapes[number]), _pieces())
    for pose in _poses():
        cell = dressed.measure(pose, look_for_holes=True)
        write_png(cell_portrait(dressed, cell, _SIZE, alpha=True))
        first = first or 1000 * (time.perf_counter() - began)
        failing += not cell.figures.holds
    return failing, first
