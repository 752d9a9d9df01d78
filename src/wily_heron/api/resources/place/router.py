"""The place, fit and work steps of a piece: proposals, previews, adjusters, loose parts, and pieces grown from the skin."""

from collections.abc import Mapping, Sequence

import numpy as np
from fastapi import APIRouter, Response

from ....formats.array_frame import array_frame, moved_rows
from ....studio import work
from ....studio.rail import growing, placing
from ...deps import AtDesk
from ...wire import BINARY, frame
from ..pieces.schemas import PieceOut
from .schemas import AdjustersNotes, FitPreviewIn, GrowIn, LandmarkOut, LoosePartOut, OutfitFitIn, PlaceAskedIn, ProposedOut

router = APIRouter(prefix="/api", tags=["work"])


@router.get("/landmarks")
def landmarks(wearer: int) -> list[LandmarkOut]:
    """Return the named points of a wearer's skin (metres, at rest)."""
    return [LandmarkOut(name=name, at=at) for name, at in placing.landmarks(wearer).items()]


@router.post("/pieces/{piece}/place")
def placement(piece: int, request: PlaceAskedIn) -> ProposedOut:
    """Return a placement: proposed from category and size, dropped onto the body, or snapped to a landmark. Nothing is kept yet."""
    step, why = placing.placement(piece, request.how, request.row, request.landmark)
    return ProposedOut(step=step, why=why)


@router.post("/pieces/{piece}/fit-preview", response_class=Response, responses=BINARY)
def preview_fit(piece: int, request: FitPreviewIn) -> Response:
    """Return the points the piece would have after fitting with these settings, quickly and without keeping them."""
    return frame(placing.preview_fit(piece, request.step))


@router.get("/pieces/{piece}/adjusters", response_class=Response, responses=BINARY)
def get_adjusters(piece: int) -> Response:
    """Return the adjusters of a piece and what each moves at 1, in hundredths of a millimetre, and its openings."""
    found = placing.adjusters_of(piece)
    moves = moved_rows(np.stack([adjuster.move for adjuster in found[0]]))
    return frame(array_frame(moves, AdjustersNotes.of(found).model_dump()))


@router.get("/pieces/{piece}/parts")
def parts(piece: int) -> list[LoosePartOut]:
    """Return the loose parts of a piece, the largest first: a row that names each, its size, material, and whether it keeps its form."""
    return [LoosePartOut.of(part) for part in placing.loose_parts(piece)]


@router.get("/grow")
def what_can_be_grown() -> Mapping[str, Sequence[str]]:
    """Return the regions of the body under `regions`, and the ready choices by name."""
    return growing.what_can_be_grown()


@router.post("/pieces/grow", status_code=201)
def grow_piece(desk: AtDesk, request: GrowIn) -> PieceOut:
    """Grow a piece from a wearer's skin and put it on the rail, made for that wearer."""
    return PieceOut.of(growing.grow_piece(desk, request.wearer, request.name, request.growth()))


@router.post("/outfit/fit", status_code=202)
def fit_outfit(desk: AtDesk, request: OutfitFitIn) -> dict[str, int]:
    """Fit all pieces of the rail to a wearer's body from the skin outwards, each resting on those under it, as a job."""
    desk.ask(work.fit_outfit(desk.production, request.outfit, request.body or "", request.ease, desk.artist))
    return {"asked": 1}
