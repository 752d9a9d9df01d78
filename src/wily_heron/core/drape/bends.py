"""Bends as often as they need to be done: soft ones show their whole stiffness when they are pushed seldom and as much harder."""

import numpy as np

from .sheet import Sheet

GIVE = 0.5
"""In one sweep a constraint sees what the neighbours before it did and not those after it. Where the load varies slowly along the cloth the
neighbours' sum is the constraint's own mobility, so it yields half of that of itself, and as much less for its compliance."""
_SELDOM, _STEADY = 4, 0.75
"""The bends are done every so many substeps at most. Done every k, those set the cloth trembling that yield less than about half of k
squared times what their vertices do; with so much it trembles as if they were done in each."""


def bends_of(sheet: Sheet, w: np.ndarray, dt: float, substeps: int) -> tuple[int, np.ndarray, float]:
    """Return every how many of a frame's `substeps` of `dt` seconds the bends are done, how much (b, 4) of what is amiss each corner then
    moves, and the share of the set stiffness that the mesh and the substeps let them show. Vertices have mobility `w` (n,).

    A push goes on till the next, k substeps: it may be twice a k-th of what is amiss, or the cloth would swing ever more. The bends are
    done as seldom as all but a hundredth of them are soft enough for it; those push no more.
    """
    pull = w[sheet.bends.rows] * sheet.weight
    moved = np.maximum(np.sum(pull * sheet.weight, axis=1), 1e-30)
    soft = sheet.bend_soft / dt**2
    least = float(np.percentile(soft / moved, 1)) if len(soft) else 0.0
    every = max(k for k in range(1, _SELDOM + 1) if substeps % k == 0 and (k == 1 or least >= _STEADY * k * k))
    whole = np.maximum(soft / every + GIVE * moved, max(1.0, every / 2) * moved)
    met = float(np.mean(soft / (every * (whole - GIVE * moved)))) if len(soft) else 1.0
    return every, pull / whole[:, None], met
