"""The cell on the stage, measured at once."""

import os

import numpy as np

from ...core.clearance.figures import Figures
from ...core.errors import InputError
from ...core.figure.base.body import shape_values
from ...store.db import transaction
from ...store.productions.settings import settings_of
from ...store.productions.shots import shots_in, shots_of
from ...store.rail.pieces import rail_of
from ..stage_cell import StageCell
from ..wearer import rail_for
from ..worn import kept_dressed, shown, worn
from .judging import judged

_THREADS = min(len(os.sched_getaffinity(0)), 4)
"""The stage waits for its cell: its pairs are measured side by side."""


def measure(production: int, cell: StageCell) -> tuple[Figures, dict[str, np.ndarray]]:
    """Return the figures of a cell, the clearance of each piece vertex by piece, and what of the body stands out (metres)."""
    shape_values(cell.on(), cell.shape)
    with transaction() as connection:
        rail, shots = rail_of(connection, production), shots_of(connection, production)
        settled = settings_of(connection, production)
        whose = rail_for(connection, production, cell)
    if cell.pieces is None:
        pieces = worn(rail, whose, bool(cell.unfinished))
    else:
        pieces = shown(rail, {each.piece: each.geometry for each in cell.pieces})
    if not pieces:
        raise InputError(what="nothing is worn yet", where="this cell", todo="Bring in a piece first.")
    dressed, lock = kept_dressed(cell.body, cell.shape, pieces)
    with lock:
        result = dressed.measure(cell.stance(), look_for_holes=True, shots=shots_in(shots, cell.wearer, cell.pose), threads=_THREADS)
        arrays = {"stands_out": result.stands_out().astype("<f4"), "hole_faces": result.hole_faces.astype("<i4")}
        maps = dressed.clearance_maps(result, _THREADS)
    arrays |= {f"clearance:{layer.name}": found for layer, found in zip(result.layers, maps, strict=True)}
    return judged(result.figures, settled), arrays
