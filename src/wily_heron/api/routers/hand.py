"""The hand tools over a live socket: the server strokes the piece, the browser draws what comes back."""

import time

import numpy as np
from fastapi import APIRouter, WebSocket

from ...core.clear.pose_fix import PosedPiece
from ...core.errors import InputError
from ...core.fit.skin_under import under_of
from ...core.model.steps.alteration import Cell
from ...core.model.steps.hand import HandDab, Lattice, Stroke
from ...core.work.lattice import bent
from ...core.work.strokes import Stroking
from ...core.work.worked import stroking
from ...store.arrays import array_frame
from ...store.bodies import body_for
from ..live import serve
from ..schemas import CellIn
from .work import standing, wearer_of

router = APIRouter(prefix="/api", tags=["work"])


class _Session:
    """One artist's hand on one piece; strokes are kept by the browser as alterations, the session only shows them at once."""

    def __init__(self, piece: int, cell: Cell | None = None) -> None:
        row, stands, recipe = standing(piece)
        self.posed: PosedPiece | None = None
        if cell is None:
            self.hand: Stroking = stroking(stands, under_of(wearer_of(recipe)))
        else:
            if stands.skin is None:
                raise InputError(what="the piece is not bound yet", where=row["name"], todo="Bind it first, or work on it at rest.")
            self.posed = PosedPiece(stands, body_for(recipe.body, cell.shape), cell)
            self.hand = self.posed.stroking()
        received = stands.mesh.received
        self.rows = received if received is not None else np.arange(len(stands.mesh.points))
        self.stroke: Stroke | None = None
        self.dabs: list[HandDab] = []
        self.before = self.hand.points.copy()
        self.mask = self.hand.protect.copy()

    def answer(self, asked: dict) -> bytes:
        """Do what a message asks and return the frame to send back; raises `HeronError` or `ValidationError` for what cannot be done."""
        began = time.perf_counter()
        match asked.get("do"):
            case "begin":
                settings = asked.get("stroke") or {}
                self.stroke, self.dabs = Stroke.model_validate({**settings, "dabs": ()}), []
                self.hand = Stroking(self.hand.points, self.hand.triangles, self.rows, self.hand.under, self.hand.protect)
                self.before, self.mask = self.hand.points.copy(), self.hand.protect.copy()
                rows = self._dab(asked)
            case "dab":
                rows = self._dab(asked)
            case "cancel":
                rows = self._back()
                self.stroke, self.dabs = None, []
            case "end":
                rows = np.zeros(0, np.int64)
            case "lattice":
                step = Lattice.model_validate(asked.get("step"))
                moved = bent(self.hand.points, step, self.hand.protect)
                rows = np.flatnonzero(np.abs(moved - self.hand.points).max(axis=1) > 1e-6)
                return self._frame(asked, rows, moved[rows], began)
            case _:
                rows = np.zeros(0, np.int64)
        notes = {}
        if asked.get("do") == "end" and self.stroke is not None:
            notes = {"stroke": {**self.stroke.model_dump(mode="json"), "dabs": [d.model_dump(mode="json") for d in self.dabs]}}
            self.stroke = None
        shown = self.hand.points[rows] if self.posed is None else self.posed.at_rest(rows, self.hand.points[rows])
        return self._frame(asked, rows, shown, began, notes)

    def _dab(self, asked: dict) -> np.ndarray:
        if self.stroke is None:
            return np.zeros(0, np.int64)
        vertex = int(asked.get("vertex", -1))
        if not 0 <= vertex < len(self.rows):
            return np.zeros(0, np.int64)
        dab = HandDab.model_validate({"at": int(self.rows[vertex]), "move": asked.get("move") or (0.0, 0.0, 0.0)})
        if self.stroke.tool == "pull":  # a pull is one dab, its move growing with the pointer
            back = self._back()
            self.dabs = [dab]
            rows = self.hand.dab(self.stroke, dab)
            return back if rows is None else np.union1d(back, rows)
        if len(self.dabs) >= 4000:
            return np.zeros(0, np.int64)
        self.dabs.append(dab)
        rows = self.hand.dab(self.stroke, dab)
        return np.zeros(0, np.int64) if rows is None else rows

    def _back(self) -> np.ndarray:
        rows = np.flatnonzero((self.hand.points != self.before).any(axis=1) | (self.hand.protect != self.mask))
        self.hand.points[rows], self.hand.protect[rows] = self.before[rows], self.mask[rows]
        return rows

    def _frame(self, asked: dict, rows: np.ndarray, points: np.ndarray, began: float, notes: dict | None = None) -> bytes:
        arrays = {"rows": rows.astype("<i4"), "points": points.astype("<f4"), "protect": self.hand.protect[rows].astype("<f4")}
        return array_frame(arrays, {"seq": asked.get("seq", 0), "ms": round(1000 * (time.perf_counter() - began), 2), **(notes or {})})


@router.websocket("/pieces/{piece}/hand")
async def hand(socket: WebSocket, piece: int, cell: str | None = None) -> None:
    """Messages in are JSON (`do`: begin, dab, end, cancel, lattice), frames out are binary: the rows that moved and where they are.

    With `cell` (JSON) the hand works on the piece in that pose; what comes back is at rest all the same.
    """
    at = None if cell is None else CellIn.model_validate_json(cell)
    await serve(socket, lambda: _Session(piece, at))
