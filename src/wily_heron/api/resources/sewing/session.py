"""A live socket on which the panels of a layout are sewn on a wearer."""

import time
from dataclasses import asdict

import numpy as np

from ....core.errors import InputError
from ....core.look.portrait import piece_colours
from ....core.model.state import Piece
from ....core.model.steps.fabric import FABRICS, Fabric
from ....core.table.sewing import Sewing
from ....formats.array_frame import array_frame
from ....jobs.queue import ask
from ....studio.desk import Desk
from ....studio.table import sewn


class SewingSession:
    """One artist sewing one layout on a wearer."""

    def __init__(self, number: int) -> None:
        self.number = number
        self.bench: sewn.Bench | None = None
        self.sewing: Sewing | None = None
        self.hangs = ""  # what is called the piece on the rail that was sewn from these panels for this wearer

    def answer(self, message: dict) -> bytes:
        """Do what a message asks and return the frame to send back; raises `HeronError` or `ValidationError` for what cannot be done."""
        began, arrays, notes = time.perf_counter(), {}, {}
        match message.get("do"):
            case "begin":
                size, over = float(message.get("size", 0.02)), bool(message.get("over"))
                arrays = self._begin(int(message.get("wearer", 0)), message.get("fabric"), size, over)
            case "next":
                arrays = {"points": self._going().frame().astype("<f4")}
            case "keep":
                notes = {"kept": self._keep(str(message.get("author", "Artist"))[:60], bool(message.get("anew")))}
        figures = {**asdict(self.sewing.report()), "hangs": self.hangs or None} if self.sewing else {}
        return array_frame(arrays, {"seq": message.get("seq", 0), "did": message.get("do"), **figures, **notes,
                                    "ms": round(1000 * (time.perf_counter() - began), 1)})

    def _begin(self, wearer: int, fabric: dict | None, size: float, over: bool) -> dict[str, np.ndarray]:
        if not 0.008 <= size <= 0.06:
            raise InputError(what=f"faces of {1000 * size:.0f} mm", where="sewing", todo="Ask for 8 to 60 mm.")
        bench = self.bench = sewn.prepare(self.number, wearer, over)
        self._look_at_rail()
        cloth = Fabric.model_validate(fabric) if fabric else FABRICS["linen"]
        self.sewing = Sewing(bench.layout.layout, bench.wearer, cloth, size, under=bench.under)
        return {"points": self.sewing.points.astype("<f4"), "triangles": self.sewing.triangles.astype("<i4"),
                "body": bench.wearer.points.astype("<f4"), "body_triangles": bench.wearer.body.triangles.astype("<i4"),
                "seams": self.sewing.flat.pairs.astype("<i4"), **_drawn_under(bench.pieces, bench.under)}

    def _going(self) -> Sewing:
        if self.sewing is None:
            raise InputError(what="nothing has been begun", where="sewing", todo="Sew from the start.")
        return self.sewing

    def _look_at_rail(self) -> None:
        hung = sewn.hung_from(self.bench) if self.bench else None
        self.hangs = hung.name if hung else ""

    def _keep(self, artist: str, anew: bool) -> int:
        sewing = self._going()
        if sewing.done <= sewing.closes or self.bench is None:
            raise InputError(what="the seams are not closed yet", where="sewing", todo="Let it go on until they are.")
        piece = sewn.keep(Desk(self.bench.who.production, artist, ask), self.bench, sewing.mesh(), anew)
        self._look_at_rail()
        return piece


def _drawn_under(pieces_under: list[Piece], under: list[tuple[np.ndarray, np.ndarray]]) -> dict[str, np.ndarray]:
    """Return what is worn under the panels as one mesh with its linear colours, nothing if nothing is."""
    if not under:
        return {}
    start = np.cumsum([0, *(len(p) for p, _ in under)])
    return {"under": np.concatenate([p for p, _ in under]).astype("<f4"),
            "under_triangles": np.concatenate([t + s for (_, t), s in zip(under, start[:-1], strict=True)]).astype("<i4"),
            "under_colours": np.concatenate([piece_colours(p.mesh) ** 1.6 for p in pieces_under]).astype("<f4")}
