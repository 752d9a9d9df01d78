"""The suite of outfits: mixed pieces of the film's stock on the cast, in five poses; what neighbours on the rail alone would tell, what all
pairs tell, and what a second judge says, before and after each cell is cleared."""

from collections.abc import Iterator, Mapping
from time import perf_counter

import numpy as np

from bench.clearing import EASE
from bench.judge import Judge
from bench.measure import Figure
from bench.stock_outfits import OUTFITS, dressed_in_stock
from demo.stock import BUNDLES
from wily_heron.core.clear.outfit.clear_outfit import clear_outfit
from wily_heron.core.clearance.cell import CellResult, Dressed
from wily_heron.core.clearance.find.view_directions import SIDES
from wily_heron.core.figure.base.body import Wearer, shaped
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure
from wily_heron.core.model.state import Piece
from wily_heron.core.motion.pose_library import POSES

_POSES = ("stand", "reach-up", "stride", "sit", "kneel")
_RAILS = {**{f"{name} (bundle)": pieces for name, pieces in BUNDLES.items()}, **OUTFITS}


def outfits() -> Iterator[Figure]:
    """Print a line an outfit and wearer; yield how long a cell of each outfit takes, and how long it takes to clear."""
    total = np.zeros(5)
    print("\narea in cm2 over five poses: by neighbours on the rail, by all pairs, by the judge; cleared, by all pairs, by the judge;")
    print("cells of five that hold before and after")
    for name, pieces in _RAILS.items():
        took: list[float] = []
        cleared: list[float] = []
        for who, settings in CAST.items():
            wearer = shaped(figure(), settings)
            area, held = _on(wearer, dressed_in_stock(pieces, wearer), took, cleared)
            total += area
            print(f"{name:30s} {who:10s} " + " ".join(f"{a:8.1f}" for a in area) + f"   {held[0]} {held[1]}", flush=True)
        yield Figure(f"a cell of {name}, {len(pieces)} pieces", float(np.median(took)))
        yield Figure("the same cleared", float(np.median(cleared)))
    print(f"{'in all':41s} " + " ".join(f"{a:8.1f}" for a in total))


def _on(wearer: Wearer, worn: Mapping[str, Piece], took: list[float], cleared: list[float]) -> tuple[np.ndarray, np.ndarray]:
    """Return the areas (5,) in all poses, and how many cells hold before and after (2,)."""
    area, held = np.zeros(5), np.zeros(2, int)
    dressed, judge = Dressed(wearer, dict(worn)), Judge(Dressed(wearer, dict(worn)), 3, len(SIDES))
    for pose in map(POSES.__getitem__, _POSES):
        began = perf_counter()
        cell = dressed.measure(pose)
        took.append(1000 * (perf_counter() - began))
        began = perf_counter()
        clean = dict(worn) if cell.figures.holds else clear_outfit(worn, wearer.body, wearer.shape, pose, EASE)[0]
        cleared.append(1000 * (perf_counter() - began))
        after = Dressed(wearer, clean).measure(pose).figures
        area += (_by_neighbours(cell), cell.figures.area_cm2, judge.judge(judge.posed(pose, list(worn.values())))[0],
                 after.area_cm2, judge.judge(judge.posed(pose, list(clean.values())))[0])
        held += cell.figures.holds, after.holds
    return area, held


def _by_neighbours(cell: CellResult) -> float:
    """Return what shows between neighbours on the rail alone, as cells were measured before (cm2)."""
    return sum(pair.area_cm2 for pair in cell.pairs if pair.key.under == pair.key.over - 1)
