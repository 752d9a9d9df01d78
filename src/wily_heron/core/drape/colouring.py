"""Constraints side by side: sixteen that share no vertex make a block, so that the processor does as many at once as it is wide."""

from dataclasses import dataclass

import numpy as np

from .kernels.lane_kernels import WIDE
from .kernels.sheet_kernels import CROWDED, colours
from .sheet import Part

_WINDOW = 1024
"""So many constraints, in their order, make blocks among themselves: fewer leave lanes empty, more take the cloth out of its order."""


@dataclass(frozen=True)
class Lanes:
    """Constraints in blocks: `rows` (b, c, 16) their vertices, `used` (b,) how many lanes of each hold one, `split` (4,) the block where
    each half, and what lies across, begins, `at` (b, 16) the constraint's place in its list."""

    rows: np.ndarray
    used: np.ndarray
    split: np.ndarray
    at: np.ndarray

    def fill(self, *values: np.ndarray) -> np.ndarray:
        """Return values (k,) or (k, f) of the constraints, one after the other, as single floats (b, f, 16)."""
        return np.ascontiguousarray(np.moveaxis(np.column_stack(values).astype(np.float32)[self.at], 2, 1))


def lanes(part: Part, vertices: int) -> Lanes:
    """Lay out the constraints of one list of a sheet with so many `vertices`."""
    kind = np.repeat(np.arange(3), np.diff(part.split))
    window = (np.arange(len(kind)) - part.split[kind]) // _WINDOW
    start = np.concatenate([[True], (np.diff(kind) > 0) | (np.diff(window) != 0)])[: len(kind)]
    group = np.cumsum(start)
    colour = colours(part.rows, group, vertices)
    order = np.argsort(group * 64 + colour, kind="stable")
    fresh = np.concatenate([[True], (np.diff(group[order]) > 0) | (np.diff(colour[order]) > 0)])[: len(kind)]
    first = np.flatnonzero(fresh)
    place = np.arange(len(kind)) - first[np.cumsum(fresh) - 1]
    block = np.cumsum(fresh | (place % WIDE == 0) | (colour[order] == CROWDED)) - 1
    used = np.bincount(block).astype(np.int64)
    at = np.repeat(order[np.concatenate([[0], np.cumsum(used)])[:-1]][:, None], WIDE, axis=1)  # an empty lane does as its block's first
    at[block, np.where(colour[order] == CROWDED, 0, place % WIDE)] = order
    split = np.concatenate([[0], np.cumsum(np.bincount(kind[at[:, 0]], minlength=3))]).astype(np.int64)
    return Lanes(np.ascontiguousarray(np.moveaxis(part.rows[at], 2, 1), np.int32), used, split, at)
