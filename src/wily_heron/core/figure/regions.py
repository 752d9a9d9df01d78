"""Named regions of the body: which face belongs to the chest, the left forearm, the right sole."""

from collections import Counter

import numpy as np

from ..memo import memoised
from .cage_grid import Cage
from .figure import DATA
from .kept import FIGURE

FINGERS = ("thumb", "index_finger", "middle_finger", "ring_finger", "little_finger")
_FRONT = ((1.125, "chest"), (0.985, "belly"), (0.0, "lap"))
_BACK = ((1.245, "upper_back"), (1.045, "lower_back"), (0.0, "seat"))
_ARM = ((0.50, "wrist"), (0.325, "forearm"), (0.245, "elbow"), (0.075, "upper_arm"), (-1.0, "shoulder"))
_LEG = ((0.535, "thigh"), (0.425, "knee"), (0.125, "lower_leg"), (-1.0, "ankle"))


def cage_regions(cage: Cage) -> tuple[tuple[str, ...], np.ndarray]:
    """Return region names and `(m,) uint8`: the region of each face of the cage; limbs have one for each side."""
    found = [_region(cage, quad, chart) for quad, chart in zip(cage.quads, cage.charts, strict=True)]
    names = tuple(sorted(set(found)))
    return names, np.array([names.index(f) for f in found], np.uint8)


def _region(cage: Cage, quad: tuple[int, int, int, int], chart: str) -> str:
    counts = Counter(cage.parts[i] for i in quad)
    part = max(counts, key=lambda p: (counts[p], p.startswith(("finger", "toe", "ear")), p == "arm", p == "leg"))
    x, y, z = np.mean([cage.points[i] for i in quad], axis=0)
    u = float(np.mean([cage.along[i] for i in quad if cage.parts[i] == part]))
    side = "l_" if x > 0 else "r_"
    if chart == "neck":
        return "neck"
    if part == "trunk":
        return _first(_FRONT if chart == "trunk front" else _BACK, y)
    if part in ("pelvis", "neck"):
        return {"pelvis": "lap", "neck": "neck"}[part]
    if part == "head":
        return "face" if z > 0.035 and y < 1.655 else "scalp"
    if part.startswith("finger"):
        return side + FINGERS[int(part[-1])]
    if part in ("arm", "leg"):
        return side + (_first(_ARM, u) if part == "arm" else _first(_LEG, y))
    if part == "palm":
        return side + ("back_of_hand" if chart.startswith("back") else "palm")
    if part == "foot":
        return side + ("sole" if chart.startswith("sole") else "foot")
    return side + ("ear" if part == "ear" else "toes")


def _first(bands: tuple[tuple[float, str], ...], value: float) -> str:
    return next(name for low, name in bands if value >= low)


@memoised(FIGURE)
def face_regions(level: int = 2) -> tuple[tuple[str, ...], np.ndarray]:
    """Return region names and `(m,) uint8`: the region of each triangle of the figure at `level`."""
    with np.load(DATA) as d:
        return tuple(str(n) for n in d["region_names"]), np.repeat(d["regions"], 2 * 4**level)


def triangles_of(names: tuple[str, ...], level: int = 2) -> np.ndarray:
    """Return the indices of the triangles whose region is one of `names`, sides left out meaning both.

    >>> both, left = triangles_of(("thigh",), 1), triangles_of(("l_thigh",), 1)
    >>> len(both) == 2 * len(left)
    True
    """
    known, of = face_regions(level)
    wanted = [i for i, n in enumerate(known) if n in names or (n[2:] in names and n[:2] in ("l_", "r_"))]
    return np.flatnonzero(np.isin(of, wanted))
