"""The bind step: what bears a piece, and the bend test."""

from fastapi import APIRouter

from ....core.clearance.regions import region_name
from ....studio.rail import binding
from .schemas import BendOut, BindJointOut

router = APIRouter(prefix="/api", tags=["bind"])


@router.get("/pieces/{piece}/joints")
def joints(piece: int) -> list[BindJointOut]:
    """Return every joint of the piece's wearer, and how much of the piece it bears."""
    return [BindJointOut(name=name, label=region_name(name), bears=round(bears, 2)) for name, bears in binding.joints_of(piece)]


@router.post("/pieces/{piece}/bend-test")
def bend(piece: int) -> list[BendOut]:
    """Swing each joint near the piece through its range and return the worst of each swing, the worst first."""
    return [BendOut.of(found) for found in binding.bends_of(piece)]
