"""Hiding by hand: faces within a line drawn on the stage, and the holes that would open without them."""

from fastapi import APIRouter

from ....studio.rail import hiding
from ...deps import ProductionId
from .schemas import LassoIn, LassoOut

router = APIRouter(prefix="/api/pieces", tags=["clear"])


@router.post("/{piece}/lasso")
def lasso(production: ProductionId, piece: int, request: LassoIn) -> LassoOut:
    """Return what a line round part of the stage would leave out, and the cells in which it would be missed; nothing is changed."""
    return LassoOut.of(hiding.within(production, piece, request.cell, request.line()))
