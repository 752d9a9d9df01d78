"""The smoothest move of part of a mesh that goes as far as it is asked to where it is asked."""

import numpy as np
from scipy import sparse
from scipy.linalg import solveh_banded
from scipy.sparse.csgraph import reverse_cuthill_mckee
from scipy.sparse.linalg import splu

_ASKED, _STAYS = 4.0, 1e-4
"""How firmly a vertex goes where it is asked to, and how firmly any stays where it is."""
_NARROW = 2e8
"""So many multiplications at the most a band is factored in; what is wider is left to a general sparse factoring."""


class SmoothMove:
    """Vertices `rows` (r,) of a mesh, of which the `bilaplacian` (n, n) says how bent a move is; the others stay.

    Numbered so that neighbours lie near, its rows make a narrow band, and are factored as one: Cuthill & McKee, Reducing the bandwidth of
    sparse symmetric matrices, 1969.
    """

    def __init__(self, bilaplacian: sparse.csr_matrix, rows: np.ndarray) -> None:
        self.rows = rows
        own = bilaplacian[rows][:, rows]
        self._order = reverse_cuthill_mckee(own, symmetric_mode=True)
        place = np.empty(len(rows), np.int64)
        place[self._order] = np.arange(len(rows))
        entries = own.tocoo()
        i, j = place[entries.row], place[entries.col]
        wide = int(np.abs(i - j).max(initial=0))
        self._band, self._own = None, own
        if len(rows) * wide**2 <= _NARROW:
            low = i >= j
            self._band = np.zeros((wide + 1, len(rows)))
            self._band[(i - j)[low], j[low]] = entries.data[low]

    def solve(self, need: np.ndarray, way: np.ndarray) -> np.ndarray:
        """Return the moves (r, 3): smooth, and along `way` (r, 3) as long as `need` (r,) where that is more than nothing."""
        weight = np.where(need > 0, _ASKED, 0.0) + _STAYS
        goal = (weight * need)[:, None] * way
        if self._band is None:
            system = (self._own + sparse.diags(weight)).tocsc()
            factor = splu(system, permc_spec="MMD_AT_PLUS_A", options={"SymmetricMode": True}, diag_pivot_thresh=0.0)
            return factor.solve(goal)
        band, out = self._band.copy(), np.empty_like(goal)
        band[0] += weight[self._order]
        out[self._order] = solveh_banded(band, goal[self._order], overwrite_ab=True, overwrite_b=True, lower=True, check_finite=False)
        return out
