"""Explaining a cell: what shows comes from what, and what would help."""

from collections.abc import Iterator

import orjson
from fastapi import APIRouter
from fastapi.responses import StreamingResponse

from ....studio.sheet.explaining import Explaining
from ...deps import ProductionId
from .schemas import ExplainedOut, ExplainIn

router = APIRouter(prefix="/api", tags=["clear"])


@router.post("/explain", response_class=StreamingResponse, responses={200: {"model": ExplainedOut}})
def explain_cell(production: ProductionId, request: ExplainIn) -> StreamingResponse:
    """Explain what shows in a cell and try remedies; one JSON line (`ExplainedOut`) as each is found. Hang up to stop."""
    found = Explaining(production, request.cell, request.over, request.under, request.wearer, request.ease)
    return StreamingResponse(_lines(found), media_type="application/x-ndjson")


def _lines(found: Explaining) -> Iterator[bytes]:
    for step in found.steps():
        yield _line(ExplainedOut.of(step))
    yield _line(ExplainedOut(done=True))


def _line(explained: ExplainedOut) -> bytes:
    return orjson.dumps(explained.model_dump(mode="json")) + b"\n"
