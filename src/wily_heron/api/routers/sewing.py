"""A live socket on which the panels of a layout are sewn on a wearer."""

import time

import numpy as np
from fastapi import APIRouter, WebSocket

from ...core.bench.recipe import Recipe
from ...core.errors import InputError
from ...core.look.portrait import piece_colours
from ...core.model.model import Model
from ...core.model.state import Piece
from ...core.model.steps.bind import Bind
from ...core.model.steps.fabric import FABRICS, Fabric
from ...core.model.steps.fit import Fit
from ...core.model.steps.follow import Follow
from ...core.model.steps.receive import MadeFor, Place, Receive
from ...core.model.worn import at_rest
from ...core.table.sewing import Sewing
from ...store import layouts as store
from ...store import pieces
from ...store.arrays import array_frame
from ...store.db import Connection, run, transaction
from ...store.models import put_model
from ...store.pieces import piece_at
from ..deps import the_production
from ..dressing import worn
from ..live import serve
from ..queue import ask
from .table import wearer_row

router = APIRouter(tags=["table"])
_CATEGORY = {"skirt": "bottom", "trousers": "bottom", "hood": "headwear"}


class _Session:
    """One artist sewing one layout on a wearer."""

    def __init__(self, number: int) -> None:
        self.number = number
        self.sewing: Sewing | None = None
        self.row: dict = {}
        self.hangs: dict | None = None  # the piece on the rail that was sewn from these panels for this wearer

    def answer(self, asked: dict) -> bytes:
        """Do what a message asks and return the frame to send back; raises `HeronError` or `ValidationError` for what cannot be done."""
        began, arrays, notes = time.perf_counter(), {}, {}
        match asked.get("do"):
            case "begin":
                size, over = float(asked.get("size", 0.02)), bool(asked.get("over"))
                arrays = self._begin(int(asked.get("wearer", 0)), asked.get("fabric"), size, over)
            case "next":
                arrays = {"points": self._going().frame().astype("<f4")}
            case "keep":
                notes = {"kept": self._keep(str(asked.get("author", "Artist"))[:60], bool(asked.get("anew")))}
        told = {**self.sewing.report(), "hangs": self.hangs and self.hangs["name"]} if self.sewing else {}
        return array_frame(arrays, {"seq": asked.get("seq", 0), "did": asked.get("do"), **told, **notes,
                                    "ms": round(1000 * (time.perf_counter() - began), 1)})

    def _begin(self, number: int, fabric: dict | None, size: float, over: bool) -> dict[str, np.ndarray]:
        if not 0.008 <= size <= 0.06:
            raise InputError(what=f"faces of {1000 * size:.0f} mm", where="sewing", todo="Ask for 8 to 60 mm.")
        with transaction() as connection:
            layout = store.get_layout(connection, self.number)
            self.row, wearer = wearer_row(connection, number)
            self.hangs = self._hung(connection)
            rail = worn(run(connection, "pieces_of", production=the_production(connection)["id"])) if over else []
        pieces_under = [piece_at(sha) for name, sha in rail if not name.startswith(layout["name"])]  # no garment is worn over itself
        under = [(at_rest(p, wearer).astype(np.float64), p.mesh.triangles) for p in pieces_under]
        self.name, block = layout["name"], layout["body"].block
        self.category = _CATEGORY.get(block, "top")
        self.sewing = Sewing(layout["body"], wearer, Fabric.model_validate(fabric) if fabric else FABRICS["linen"], size, under=under)
        return {"points": self.sewing.points.astype("<f4"), "triangles": self.sewing.triangles.astype("<i4"),
                "body": wearer.points.astype("<f4"), "body_triangles": wearer.body.triangles.astype("<i4"),
                "seams": self.sewing.flat.pairs.astype("<i4"), **_drawn_under(pieces_under, under)}

    def _going(self) -> Sewing:
        if self.sewing is None:
            raise InputError(what="nothing has been begun", where="sewing", todo="Sew from the start.")
        return self.sewing

    def _hung(self, connection: Connection) -> dict | None:
        for piece in run(connection, "hung_from", layout=self.number):
            recipe = Recipe.model_validate(piece["recipe"])
            if (recipe.body, recipe.made_on) == (self.row["body_sha"] or "", self.row["shape"]):
                return {**piece, "recipe": recipe}
        return None

    def _keep(self, author: str, anew: bool) -> int:
        """Put the garment on the rail as it hangs now, made for its wearer, or `anew` on the piece that hangs there; return its number.

        What was done to that piece by its vertices is left out: they are others now. To undo brings it all back.
        """
        sewing = self._going()
        if sewing.done <= sewing.closes:
            raise InputError(what="the seams are not closed yet", where="sewing", todo="Let it go on until they are.")
        whose = MadeFor(name=self.row["name"], body=self.row["body_sha"] or "", shape=self.row["shape"])
        received = Receive(unit="m", up="y", hand="right", facing="front", mends=(), made_for=whose)
        recipe = Recipe(body=self.row["body_sha"] or "", made_on=self.row["shape"], steps=(received, Place(), Bind(), Follow()))
        with transaction() as connection:
            sha, hung = put_model(connection, Model(sewing.mesh())), self._hung(connection) if anew else None
            if hung:
                kept = tuple(s for s in hung["recipe"].steps if isinstance(s, Receive | Place | Fit | Bind | Follow))
                piece, recipe = hung["id"], hung["recipe"].model_copy(update={"steps": kept})
                edit = pieces.change_recipe(connection, piece, recipe, f"Cut {self.name} anew", author, None, sha)
            else:
                production = the_production(connection)["id"]
                piece, edit = pieces.add_piece(connection, production, self.name, self.category, f"{self.name} (sewn)", sha, recipe, author)
                run(connection, "cut_from", piece=piece, layout=self.number)
            self.hangs = self._hung(connection)
        ask("evaluate_edit", priority=10, edit=edit)
        return piece


@router.websocket("/api/table/layouts/{number}/sew")
async def sew(socket: WebSocket, number: int) -> None:
    """Messages in are JSON (`do`: begin on a `wearer` in a `fabric` with faces of a `size`, `over` what hangs on the rail or not; next;
    keep, `anew` on the piece that hangs there already or as another).
    Frames out hold the panels' points, with the first their triangles, the body's, what is worn under them and the sewn pairs, and how
    far the seams are open."""
    await serve(socket, lambda: _Session(number))


def _drawn_under(pieces_under: list[Piece], under: list[tuple[np.ndarray, np.ndarray]]) -> dict[str, np.ndarray]:
    """Return what is worn under the panels as one mesh with its linear colours, nothing if nothing is."""
    if not under:
        return {}
    start = np.cumsum([0, *(len(p) for p, _ in under)])
    return {"under": np.concatenate([p for p, _ in under]).astype("<f4"),
            "under_triangles": np.concatenate([t + s for (_, t), s in zip(under, start[:-1], strict=True)]).astype("<i4"),
            "under_colours": np.concatenate([piece_colours(p.mesh) ** 1.6 for p in pieces_under]).astype("<f4")}
