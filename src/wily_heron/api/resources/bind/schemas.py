"""The bind step on the wire."""

from ....core.bind.bend_test import Bend
from ....core.clearance.regions import region_name
from ...wire import Out


class BindJointOut(Out):
    """A joint a piece can be bound to: its name, what it is called, and how many vertices' worth of the piece it bears."""

    name: str
    label: str
    bears: float


class BendOut(Out):
    """One swing of one joint: how far (degrees), the worst stretch of an edge (times its length), the depth under the skin (mm)."""

    joint: str
    label: str
    swing: str
    degrees: float
    stretch: float
    depth_mm: float
    rotations: dict[str, list[float]]

    @classmethod
    def of(cls, found: Bend) -> "BendOut":
        """Return a swing with its depth in mm."""
        return cls(joint=found.joint, label=region_name(found.joint), swing=found.swing, degrees=round(found.degrees, 1),
                   stretch=round(found.stretch, 3), depth_mm=round(1000 * found.depth, 2), rotations=found.rotations)
