"""Working copies: a production as it stood, to be looked at, gone back to, or taken from."""

from fastapi import APIRouter, Response

from ....studio.productions import copies, pictures
from ...deps import AtDesk, ProductionId
from ...wire import FOR_EVER, answers
from ..pieces.schemas import PieceOut
from .schemas import CopyIn, CopyLineOut, CopyLookOut

router = APIRouter(prefix="/api/copies", tags=["copies"])


@router.get("")
def all_copies(production: ProductionId) -> list[CopyLineOut]:
    """Return the working copies of the production, newest first."""
    return [CopyLineOut.of(line) for line in copies.copies(production)]


@router.post("", status_code=201)
def keep(desk: AtDesk, request: CopyIn) -> list[CopyLineOut]:
    """Keep the production as it stands under a name."""
    return [CopyLineOut.of(line) for line in copies.keep(desk, request.name)]


@router.get("/{copy}")
def look(production: ProductionId, copy: int) -> CopyLookOut:
    """Return what stood in a working copy, and what has become of it since."""
    return CopyLookOut.of(copies.look(production, copy))


@router.get("/{copy}/picture.png", response_class=Response, responses=answers("image/png"))
def picture(production: ProductionId, copy: int) -> Response:
    """Return the first wearer of a working copy in what hung on the rail then."""
    return Response(pictures.copy_picture(production, copy), media_type="image/png", headers=FOR_EVER)


@router.post("/{copy}/go-back", status_code=204)
def go_back(desk: AtDesk, copy: int) -> None:
    """Put the production back to how it stood; how it stands now is kept as a working copy first."""
    copies.go_back(desk, copy)


@router.post("/{copy}/pieces/{piece}", status_code=201)
def take_piece(desk: AtDesk, copy: int, piece: int, outfit: int | None = None) -> PieceOut:
    """Hang a piece of a working copy in an outfit, beside what hangs there, with its history."""
    return PieceOut.of(copies.take_piece(desk, copy, piece, outfit))


@router.post("/{copy}/outfits/{outfit}", status_code=201)
def take_outfit(desk: AtDesk, copy: int, outfit: int) -> dict[str, int]:
    """Begin an outfit with all pieces that one of a working copy had."""
    return {"id": copies.take_outfit(desk, copy, outfit)}


@router.delete("/{copy}", status_code=204)
def drop(production: ProductionId, copy: int) -> None:
    """Delete a working copy."""
    copies.drop(production, copy)
