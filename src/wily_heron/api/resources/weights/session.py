"""The weight brush over a live socket."""

import time

import numpy as np

from ....core.bind.paint import WeightBrush
from ....core.model.steps.bind import Weigh
from ....formats.array_frame import array_frame
from ....studio.rail.standing import standing
from ...live import MOST_DABS


class WeightSession:
    """One artist's weight brush on one piece; strokes are kept by the browser as alterations, the session shows them at once."""

    def __init__(self, piece: int) -> None:
        stands = standing(piece).bound()
        mesh, skin = stands.piece.mesh, stands.piece.skin
        assert skin is not None
        self.rows = mesh.received if mesh.received is not None else np.arange(len(mesh.points))
        self.brush = WeightBrush(mesh, skin, stands.piece.riders, stands.wearer())
        self.stroke: Weigh | None = None
        self.dabs: list[int] = []
        self.before = self.brush.dense.copy()

    def answer(self, message: dict) -> bytes:
        """Do what a message asks and return the frame to send back; raises `HeronError` or `ValidationError` for what cannot be done."""
        began, notes = time.perf_counter(), {}
        rows = np.zeros(0, np.int64)
        match message.get("do"):
            case "begin":
                self.stroke, self.dabs = Weigh.model_validate({**(message.get("stroke") or {}), "kind": "weigh", "dabs": ()}), []
                self.before = self.brush.dense.copy()
                rows = self._dab(message)
            case "dab":
                rows = self._dab(message)
            case "cancel":
                rows = np.flatnonzero((self.brush.dense != self.before).any(axis=1))
                self.brush.dense[rows] = self.before[rows]
                self.stroke = None
            case "end" if self.stroke is not None:
                notes = {"stroke": self.stroke.model_copy(update={"dabs": tuple(self.dabs)}).model_dump(mode="json")}
                self.stroke = None
        skin = self.brush.weights(rows)
        arrays = {"rows": rows.astype("<i4"), "joints": skin.joints.astype("<u2"), "weights": skin.weights.astype("<f4")}
        return array_frame(arrays, {"seq": message.get("seq", 0), "ms": round(1000 * (time.perf_counter() - began), 2), **notes})

    def _dab(self, message: dict) -> np.ndarray:
        vertex = int(message.get("vertex", -1))
        if self.stroke is None or not 0 <= vertex < len(self.rows) or len(self.dabs) >= MOST_DABS:
            return np.zeros(0, np.int64)
        rows = self.brush.dab(self.stroke, int(self.rows[vertex]))  # before it is noted, so that a joint that is not there is told
        self.dabs.append(int(self.rows[vertex]))
        return rows
