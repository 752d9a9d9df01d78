"""One failing pair in one cell, and what is left of it when something is changed."""

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from ..figure.body import Body, shaped
from ..figure.pose import Pose
from ..mesh.corners import ringed
from ..piece.state import Piece
from .cell import CellResult, Dressed
from .layers import Layers


@dataclass(frozen=True)
class Case:
    """An outfit (from the skin out, by name) on shape values (s,) in a pose, and the pair in question, counted from the skin out."""

    pieces: Mapping[str, Piece]
    body: Body
    shape: np.ndarray
    pose: Pose
    pair: int
    _kept: dict = field(default_factory=dict, compare=False)

    @property
    def over(self) -> str:
        """The name of the over-layer."""
        return list(self.pieces)[self.pair]

    @property
    def under(self) -> str | None:
        """The name of the under-layer; None for the skin."""
        return list(self.pieces)[self.pair - 1] if self.pair else None

    def dressed(self) -> Dressed:
        """The wearer as it is dressed."""
        if "dressed" not in self._kept:
            self._kept["dressed"] = Dressed(shaped(self.body, self.shape), dict(self.pieces))
        return self._kept["dressed"]

    def cell(self) -> CellResult:
        """The cell as it is."""
        if "cell" not in self._kept:
            self._kept["cell"] = self.dressed().measure(self.pose)
        return self._kept["cell"]

    @property
    def area(self) -> float:
        """What the pair shows (cm2)."""
        return self.cell().figures["pairs"][self.pair]["area_cm2"]

    def layers(self, name: str, pieces: Mapping[str, Piece] | None = None) -> Layers:
        """What a piece of the outfit is worn between."""
        worn = self.pieces if pieces is None else pieces
        names = list(worn)
        at = names.index(name)
        return Layers(tuple(worn[n] for n in names[:at]), tuple(worn[n] for n in names[at + 1 :]))

    def where(self) -> np.ndarray:
        """The under-layer's vertices (bool) within three rings of what shows."""
        found = self.cell().layers[self.pair].found
        triangles = self.body.triangles if self.pair == 0 else list(self.pieces.values())[self.pair - 1].mesh.triangles
        here = np.zeros(len(found.depth), bool)
        for place in found.places:
            here[place.vertices] = True
        return ringed(here, triangles, 3)

    def left(self, pieces: Mapping[str, Piece] | None = None, shape: np.ndarray | None = None, pose: Pose | None = None) -> float:
        """Return how much of what shows here (cm2) still shows with something changed, at the same places of the under-layer."""
        worn = self.pieces if pieces is None else pieces
        if worn is self.pieces and shape is None:
            dressed = self.dressed()
        else:
            dressed = Dressed(shaped(self.body, self.shape if shape is None else shape), dict(worn))
        found = dressed.measure(pose or self.pose).layers[list(worn).index(self.over)].found
        here = self.where()
        if len(here) != len(found.depth):
            return 1e4 * found.area
        return 1e4 * sum(p.area for p in found.places if here[p.vertices].any())
