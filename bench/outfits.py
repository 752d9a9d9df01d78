"""The suite of outfits: mixed pieces of the film's stock on the cast, in five poses; what neighbours on the rail alone would tell, what all
pairs tell, and what a second judge says."""

from collections.abc import Iterator
from time import perf_counter

import numpy as np

from bench.judge import Judge
from bench.measure import Figure
from bench.stock_outfits import OUTFITS, dressed_in_stock
from wily_heron.core.clearance.cell import CellResult, Dressed
from wily_heron.core.figure.body import shaped
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.pose_library import POSES

_POSES = ("stand", "reach-up", "stride", "sit", "kneel")
_VIEWS = 700


def outfits() -> Iterator[Figure]:
    """Print a line an outfit and wearer; yield how long a cell of each outfit takes."""
    total = np.zeros(3)
    print("\narea in cm2 over five poses: by neighbours on the rail alone, by all pairs, by the judge; the least clearance and whose it is")
    for name, pieces in OUTFITS.items():
        took: list[float] = []
        for who, settings in CAST.items():
            wearer = shaped(figure(), settings)
            worn = dressed_in_stock(pieces, wearer)
            dressed, judge = Dressed(wearer, worn), Judge(Dressed(wearer, worn), 3, _VIEWS)
            area, worst = np.zeros(3), {}
            for pose in _POSES:
                began = perf_counter()
                cell = dressed.measure(POSES[pose])
                took.append(1000 * (perf_counter() - began))
                theirs, _ = judge.judge(judge.posed(POSES[pose], list(worn.values())))
                area += _by_neighbours(cell), cell.figures["area_cm2"], theirs
                worst = min([worst, *cell.figures["pairs"]], key=lambda p: p.get("clearance_mm", 40.0))
            total += area
            print(f"{name:22s} {who:10s} {area[0]:8.1f} {area[1]:8.1f} {area[2]:8.1f}   "
                  f"{worst['clearance_mm']:6.1f} mm {worst['over']} over {worst['under']}, {worst['at']}")
        yield Figure(f"a cell of {name}, {len(pieces)} pieces", float(np.median(took)))
    print(f"{'in all':33s} {total[0]:8.1f} {total[1]:8.1f} {total[2]:8.1f}")


def _by_neighbours(cell: CellResult) -> float:
    """Return what shows between neighbours on the rail alone, as cells were measured before (cm2)."""
    return sum(pair.area_cm2 for pair in cell.pairs if pair.key.under == pair.key.over - 1)
