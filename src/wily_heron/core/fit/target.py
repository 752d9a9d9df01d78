"""What a piece is fitted to, and a piece brought over to it but not settled yet."""

from dataclasses import dataclass

import numpy as np

from ..space.under import Under
from .likely.likely_body import Likely


@dataclass(frozen=True)
class FitTarget:
    """Where a piece is to be worn: what lies under it, and the level-1 figure's vertices on the body (b, 3).

    `source` are those of the body the piece was made for, if known; `shape` (s,) the wearer's shape values, from which a body is
    searched if not. A piece that `encloses` what it is worn on (a boot, a glove, a hat) is not searched for a body that it does not hold.
    """

    under: Under
    carrier: np.ndarray
    shape: np.ndarray
    source: np.ndarray | None = None
    encloses: bool = False


@dataclass(frozen=True)
class Transferred:
    """A piece brought over but not settled: points (n, 3), how far each stood off the body it came from (n,) or None, and that body."""

    points: np.ndarray
    off: np.ndarray | None
    found: Likely | None
    agree: float
    exact: bool
