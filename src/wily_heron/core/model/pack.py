"""A pack: a body with its pieces, as it leaves the house."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from ..figure.base.body import Body
from ..motion.motion import Motion
from ..motion.pose import Pose
from .layer_names import layer_names
from .model import Texture
from .state import Piece


@dataclass(frozen=True)
class PackedPiece:
    """One piece in a pack, with its name, category and the ease (metres) it was fitted to."""

    name: str
    category: str
    piece: Piece
    ease: float = 0.009


@dataclass(frozen=True)
class Pack:
    """A body standing at `body.made_at`, pieces innermost first, the cast, poses and motions that go along as clips, and checks;
    the textures that the pieces' materials ask for."""

    body: Body
    wearer: str
    pieces: tuple[PackedPiece, ...]
    cast: Mapping[str, Mapping[str, float]] = field(default_factory=dict[str, Mapping[str, float]])
    poses: Mapping[str, Pose] = field(default_factory=dict[str, Pose])
    clearance: Mapping[str, Any] = field(default_factory=dict[str, Any])
    motions: tuple[Motion, ...] = ()
    textures: tuple[Texture, ...] = ()

    def dressed(self) -> dict[str, Piece]:
        """Return the pieces by name, innermost first."""
        return dict(zip(layer_names(p.name for p in self.pieces), (p.piece for p in self.pieces), strict=True))
