"""The cell on the stage, measured at once, and the figure it is drawn with."""

from fastapi import APIRouter, Response

from ....formats.array_frame import array_frame
from ....studio.productions.figure import figure_frame
from ....studio.sheet import cells
from ...deps import ProductionId
from ...wire import BINARY, frame
from .schemas import CellIn

router = APIRouter(prefix="/api", tags=["cells"])


@router.post("/cell", response_class=Response, responses=BINARY)
def measure(production: ProductionId, cell: CellIn) -> Response:
    """Return the figures of a cell (frame notes) with the clearance of each piece vertex and what of the body stands out (metres)."""
    figures, arrays = cells.measure(production, cell)
    return frame(array_frame(arrays, {"figures": figures.model_dump(mode="json")}))


@router.get("/figure", response_class=Response, responses=BINARY)
def get_figure(level: int = 2, body: str | None = None) -> Response:
    """Return the figure's arrays at level 1 or 2, or those of a body of one's own, as one frame: base, shape deltas in hundredths of a
    millimetre, skeleton, skin."""
    return frame(figure_frame(level, body), {"Cache-Control": "no-cache"})
