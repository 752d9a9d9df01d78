"""One failing pair in one cell, and what is left of it when something is changed."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from ..clear.layers import Layers
from ..clearance.cell import CellResult, Dressed
from ..clearance.cover.key import SKIN, Key
from ..clearance.pair import Pair
from ..errors import InputError
from ..figure.base.body import Body, shaped
from ..mesh.corners import ringed
from ..model.layer_names import SKIN_NAME
from ..model.state import Piece
from ..motion.pose import Pose


@dataclass(frozen=True)
class Case:
    """An outfit (from the skin out, by name) on shape values (s,) in a pose, and the pair of layers in question."""

    pieces: Mapping[str, Piece]
    body: Body
    shape: np.ndarray
    pose: Pose
    key: Key
    _kept: dict = field(default_factory=dict, compare=False)

    @classmethod
    def of(cls, pieces: Mapping[str, Piece], body: Body, shape: np.ndarray, pose: Pose, over: str, under: str | None = None) -> "Case":
        """Return the case of the piece `over` in a cell: with the layer named `under` it, else with the one that shows most through it.

        Raises `InputError` where nothing lies under it.
        """
        names, case = list(pieces), cls(pieces, body, shape, pose, Key(list(pieces).index(over), SKIN))
        found = case.cell().over(names.index(over))
        if under is not None:
            found = [p for p in found if p.key.under == (SKIN if under == SKIN_NAME else names.index(under) if under in names else None)]
        if not found:
            raise InputError(what=f"{over} lies over {under or 'nothing'} nowhere" if under else f"nothing lies under {over} here",
                             where="explaining", todo="Choose another pair of layers.")
        return replace(case, key=max(found, key=lambda p: p.area_cm2).key)

    @property
    def pair(self) -> Pair:
        """The pair as it is measured in the cell."""
        return self.cell().pair(self.key)

    @property
    def over(self) -> str:
        """The name of the over-layer."""
        return list(self.pieces)[self.key.over]

    @property
    def under(self) -> str | None:
        """The name of the under-layer; None for the skin."""
        return None if self.key.under == SKIN else list(self.pieces)[self.key.under]

    @property
    def under_faces(self) -> np.ndarray:
        """The triangles (m, 3) of the under-layer."""
        return self.dressed().faces_of(self.key.under)

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
        return self.pair.area_cm2

    def layers(self, name: str, pieces: Mapping[str, Piece] | None = None) -> Layers:
        """What a piece of the outfit is worn between."""
        worn = self.pieces if pieces is None else pieces
        names = list(worn)
        at = names.index(name)
        return Layers(tuple(worn[n] for n in names[:at]), tuple(worn[n] for n in names[at + 1 :]))

    def where(self) -> np.ndarray:
        """The under-layer's vertices (bool) within three rings of what shows."""
        found = self.pair.found
        here = np.zeros(len(found.depth), bool)
        for place in found.places:
            here[place.vertices] = True
        return ringed(here, self.under_faces, 3)

    def left(self, pieces: Mapping[str, Piece] | None = None, shape: np.ndarray | None = None, pose: Pose | None = None) -> float:
        """Return how much of what shows here (cm2) still shows with something changed, at the same places of the under-layer.

        Without the under-layer, or with the two so that they nowhere overlap, it is nothing.
        """
        worn = self.pieces if pieces is None else pieces
        if self.under is not None and self.under not in worn:
            return 0.0
        if worn is self.pieces and shape is None:
            dressed = self.dressed()
        else:
            dressed = Dressed(shaped(self.body, self.shape if shape is None else shape), dict(worn))
        names = list(worn)
        key = Key(names.index(self.over), SKIN if self.under is None else names.index(self.under))
        if key not in dressed.covers:
            return 0.0
        found = dressed.measure(pose or self.pose).pair(key).found
        here = self.where()
        if len(here) != len(found.depth):
            return 1e4 * found.area
        return 1e4 * sum(p.area for p in found.places if here[p.vertices].any())
