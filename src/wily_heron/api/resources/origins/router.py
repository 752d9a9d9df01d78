"""Where a piece comes from: the body it was made for, its textures, and bringing it over to another body."""

from fastapi import APIRouter, UploadFile

from ....studio.rail import origins
from ...deps import AtDesk, ProductionId
from ...received_files import sorted_files
from ..pieces.schemas import PieceOut
from .schemas import CandidateOut, LinkedOut, OverIn

router = APIRouter(prefix="/api/pieces", tags=["pieces"])


@router.get("/{piece}/made-for")
def made_for(production: ProductionId, piece: int) -> list[CandidateOut]:
    """Return the wearers the piece may have been made for, the likeliest first; each says what speaks against it."""
    return [CandidateOut(name=c.name, body=who.body, shape=who.shape, skin_mm=round(1000 * c.skin, 1), inside=round(c.inside, 3),
                         joints_mm=None if c.joints is None else round(1000 * c.joints, 1), warning=warning)
            for c, who, warning in origins.made_for(production, piece)]


@router.post("/{piece}/textures")
def relink(desk: AtDesk, piece: int, files: list[UploadFile]) -> LinkedOut:
    """Give a piece the textures it asks for, found by name: whole, without its ending, or the only one for the only gap."""
    linked, missing = origins.relink(desk, piece, sorted_files(files)[1])
    return LinkedOut(linked=linked, missing=missing)


@router.post("/{piece}/over", status_code=201)
def bring_over(desk: AtDesk, piece: int, to: OverIn) -> PieceOut:
    """Put a piece made on one body on another: as it stands now, it rides over, and is fitted, bound and made to follow there."""
    return PieceOut.of(origins.bring_over(desk, piece, to.wearer))
