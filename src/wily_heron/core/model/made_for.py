"""Which body a piece was made for, by figures: how far it lies from each skin, and how far its joints from theirs."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..figure.base.body import Wearer
from ..space.tree import TriangleTree
from .roles import find_roles
from .state import Piece

WRONG = 0.005
"""A choice that lies farther off than the best by more than this (metres) is warned of."""
_MAX_DISTANCE = 0.25


@dataclass(frozen=True)
class Candidate:
    """A body, the mean distance (metres) of the piece to its skin, the share of the piece under it, and the mean distance of joints."""

    name: str
    skin: float
    inside: float
    joints: float | None

    @property
    def miss(self) -> float:
        """What the candidates are ordered by (metres): joints where they came along, else the skin, what lies under it counting more."""
        return self.joints if self.joints is not None else self.skin + 0.10 * self.inside


def candidates(piece: Piece, wearers: Mapping[str, Wearer]) -> list[Candidate]:
    """Return the bodies from the likeliest on; the piece stands where it was received."""
    brought = piece.brought
    roles = find_roles(brought.skeleton) if brought is not None and brought.skeleton is not None else {}
    out: list[Candidate] = []
    for name, wearer in wearers.items():
        distance, _ = TriangleTree(wearer.points, wearer.body.triangles).signed_distance(piece.mesh.points)
        near = np.minimum(np.abs(distance), _MAX_DISTANCE)
        joints = None
        if brought is not None and brought.skeleton is not None and len(roles) >= 4:
            gaps = [np.linalg.norm(brought.skeleton.positions[brought.skeleton.index(theirs)] - wearer.skeleton.positions[
                wearer.skeleton.index(ours)]) for ours, theirs in roles.items() if ours in wearer.skeleton.names]
            joints = float(np.mean(gaps)) if len(gaps) >= 4 else None
        out.append(Candidate(name, float(near.mean()), float((distance < -0.002).mean()), joints))
    return sorted(out, key=lambda c: c.miss)


def warning(chosen: str, found: list[Candidate]) -> str | None:
    """Return what speaks against a choice, in figures; None if nothing does."""
    mine = next((c for c in found if c.name == chosen), None)
    if mine is None or mine is found[0] or mine.miss < found[0].miss + WRONG:
        return None
    best = found[0]
    if mine.joints is not None and best.joints is not None:
        return (f"its joints lie {1000 * mine.joints:.0f} mm from those of {mine.name} on the mean, "
                f"and {1000 * best.joints:.0f} mm from those of {best.name}")
    return (f"it lies {1000 * mine.skin:.0f} mm from the skin of {mine.name} on the mean, {100 * mine.inside:.0f} % of it under the skin; "
            f"of {best.name} {1000 * best.skin:.0f} mm and {100 * best.inside:.0f} %")
