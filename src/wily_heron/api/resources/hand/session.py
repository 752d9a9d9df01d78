"""The hand tools over a live socket: the server strokes the piece, the browser draws what comes back."""

import time

import numpy as np

from ....core.clear.pose_fix import PosedPiece
from ....core.errors import InputError
from ....core.fit.skin_under import under_of
from ....core.model.steps.alteration import Cell
from ....core.model.steps.hand import HandDab, Lattice, Stroke
from ....core.work.lattice import bent
from ....core.work.strokes import Stroking
from ....core.work.worked import stroking
from ....formats.array_frame import array_frame
from ....store.productions.bodies import body_for
from ....studio.rail.standing import standing
from ...live import MOST_DABS


class HandSession:
    """One artist's hand on one piece; strokes are kept by the browser as alterations, the session only shows them at once."""

    def __init__(self, piece: int, cell: Cell | None = None) -> None:
        stands = standing(piece)
        self.posed: PosedPiece | None = None
        if cell is None:
            self.hand: Stroking = stroking(stands.piece, under_of(stands.wearer()))
        else:
            if stands.piece.skin is None:
                raise InputError(what="the piece is not bound yet", where=stands.row.name, todo="Bind it first, or work on it at rest.")
            self.posed = PosedPiece(stands.piece, body_for(stands.recipe.body, cell.shape), cell)
            self.hand = self.posed.stroking()
        mesh = stands.piece.mesh
        self.rows = mesh.received if mesh.received is not None else np.arange(len(mesh.points))
        self.stroke: Stroke | None = None
        self.dabs: list[HandDab] = []
        self.before = self.hand.points.copy()
        self.mask = self.hand.protect.copy()

    def answer(self, message: dict) -> bytes:
        """Do what a message asks and return the frame to send back; raises `HeronError` or `ValidationError` for what cannot be done."""
        began = time.perf_counter()
        match message.get("do"):
            case "begin":
                settings = message.get("stroke") or {}
                self.stroke, self.dabs = Stroke.model_validate({**settings, "dabs": ()}), []
                self.hand = Stroking(self.hand.points, self.hand.triangles, self.rows, self.hand.under, self.hand.protect)
                self.before, self.mask = self.hand.points.copy(), self.hand.protect.copy()
                rows = self._dab(message)
            case "dab":
                rows = self._dab(message)
            case "cancel":
                rows = self._back()
                self.stroke, self.dabs = None, []
            case "end":
                rows = np.zeros(0, np.int64)
            case "lattice":
                step = Lattice.model_validate(message.get("step"))
                moved = bent(self.hand.points, step, self.hand.protect)
                rows = np.flatnonzero(np.abs(moved - self.hand.points).max(axis=1) > 1e-6)
                return self._frame(message, rows, moved[rows], began)
            case _:
                rows = np.zeros(0, np.int64)
        notes = {}
        if message.get("do") == "end" and self.stroke is not None:
            notes = {"stroke": {**self.stroke.model_dump(mode="json"), "dabs": [d.model_dump(mode="json") for d in self.dabs]}}
            self.stroke = None
        shown = self.hand.points[rows] if self.posed is None else self.posed.at_rest(rows, self.hand.points[rows])
        return self._frame(message, rows, shown, began, notes)

    def _dab(self, message: dict) -> np.ndarray:
        if self.stroke is None:
            return np.zeros(0, np.int64)
        vertex = int(message.get("vertex", -1))
        if not 0 <= vertex < len(self.rows):
            return np.zeros(0, np.int64)
        dab = HandDab.model_validate({"at": int(self.rows[vertex]), "move": message.get("move") or (0.0, 0.0, 0.0)})
        if self.stroke.tool == "pull":  # a pull is one dab, its move growing with the pointer
            back = self._back()
            self.dabs = [dab]
            rows = self.hand.dab(self.stroke, dab)
            return back if rows is None else np.union1d(back, rows)
        if len(self.dabs) >= MOST_DABS:
            return np.zeros(0, np.int64)
        self.dabs.append(dab)
        rows = self.hand.dab(self.stroke, dab)
        return np.zeros(0, np.int64) if rows is None else rows

    def _back(self) -> np.ndarray:
        rows = np.flatnonzero((self.hand.points != self.before).any(axis=1) | (self.hand.protect != self.mask))
        self.hand.points[rows], self.hand.protect[rows] = self.before[rows], self.mask[rows]
        return rows

    def _frame(self, message: dict, rows: np.ndarray, points: np.ndarray, began: float, notes: dict | None = None) -> bytes:
        arrays = {"rows": rows.astype("<i4"), "points": points.astype("<f4"), "protect": self.hand.protect[rows].astype("<f4")}
        return array_frame(arrays, {"seq": message.get("seq", 0), "ms": round(1000 * (time.perf_counter() - began), 2), **(notes or {})})
