"""What lay near what at rest, on a coarse grid: quick enough to be asked of every pair in every cell."""

from dataclasses import dataclass

import numpy as np

from ...mesh.boxes import box_about, grid_places

STRAY = 0.12
"""Only cloth that lay within this of a point at rest (metres) can be shown through by it: a hand on a skirt is no fault."""
_CELL = 0.06
_REACH = 2
"""The side of a grid cell (metres), and how many cells `STRAY` spans."""


@dataclass(frozen=True)
class RestGrid:
    """The grid cells of an under-layer's spots (n,) and of the over-layer's vertices (m,), as flat places in a grid of `shape`."""

    spots: np.ndarray
    over: np.ndarray
    shape: tuple[int, int, int]

    @staticmethod
    def of(spots: np.ndarray, rest: np.ndarray) -> "RestGrid":
        """Return the grid of spots (n, 3) and of an over-layer at `rest` (m, 3), in metres; a rim of empty cells is left about both."""
        boxes = np.stack([box_about(spots), box_about(rest)])
        low = boxes[:, 0].min(axis=0)
        x, y, z = ((boxes[:, 1].max(axis=0) - low) / _CELL).astype(int) + 2 * _REACH + 1
        shape = int(x), int(y), int(z)
        return RestGrid(grid_places(spots, low, _CELL, _REACH, shape), grid_places(rest, low, _CELL, _REACH, shape), shape)

    def near(self, which: np.ndarray) -> np.ndarray:
        """Return `(m,) bool`: a superset of the over-layer's vertices that lay within `STRAY` of the spots `which` (k,)."""
        full = np.zeros(self.shape, bool)
        full.ravel()[self.spots[which]] = True
        for axis in range(3):
            line, wide = np.moveaxis(full, axis, 0), full.copy()
            along = np.moveaxis(wide, axis, 0)
            for step in range(1, _REACH + 1):
                along[step:] |= line[:-step]
                along[:-step] |= line[step:]
            full = wide
        return full.ravel()[self.over]
