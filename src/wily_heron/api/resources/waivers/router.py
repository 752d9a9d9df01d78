"""What is left as it is on the sheet, and the cells that matter."""

from fastapi import APIRouter

from ....store.sheet.waivers import PinRow
from ....studio.sheet import waivers as studio
from ...deps import AtDesk, ProductionId
from .schemas import PinIn, PinOut, WaiverIn, WaiverOut

router = APIRouter(prefix="/api", tags=["clear"])


@router.get("/waivers")
def waivers(production: ProductionId) -> list[WaiverOut]:
    """Return what is left as it is, with the reasons."""
    return [WaiverOut.of(row) for row in studio.waivers(production)]


@router.post("/waivers", status_code=201)
def waive(desk: AtDesk, request: WaiverIn) -> list[WaiverOut]:
    """Leave what shows through a piece in a cell as it is; it stays on the list with its reason."""
    left = studio.waive(desk, PinRow(wearer=request.wearer, pose=request.pose), request.over, request.reason, request.by_shots)
    return [WaiverOut.of(row) for row in left]


@router.delete("/waivers/{waiver}")
def unwaive(production: ProductionId, waiver: int) -> list[WaiverOut]:
    """Count it again."""
    return [WaiverOut.of(row) for row in studio.unwaive(production, waiver)]


@router.get("/pins")
def pins(production: ProductionId) -> list[PinOut]:
    """Return the cells that matter."""
    return [PinOut.of(row) for row in studio.pins(production)]


@router.put("/pins")
def pin(production: ProductionId, request: PinIn) -> list[PinOut]:
    """Pin a cell, or take its pin out."""
    return [PinOut.of(row) for row in studio.pin(production, PinRow(wearer=request.wearer, pose=request.pose), request.pinned)]
