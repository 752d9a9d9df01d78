"""The bind and follow steps: what bears a piece, the bend test, the weight brush over a live socket, wearing on the cast."""

import time

import numpy as np
from fastapi import APIRouter, WebSocket

from ...core.bind.bend_test import bend_test
from ...core.bind.paint import WeightBrush
from ...core.clearance.regions import region_name
from ...core.errors import InputError, NotFound
from ...core.figure.base.body import shape_values, shaped
from ...core.model.steps.bind import Weigh
from ...store.arrays import array_frame
from ...store.bodies import body_for
from ...store.db import Connection, one, run, transaction
from ...store.events import notify
from ..deps import Artist, ProductionId
from ..live import serve
from ..queue import ask
from ..schemas_binding import BendOut, BindJointOut, WearIn, WearOut, WearRowOut
from .work import standing, wearer_of

router = APIRouter(prefix="/api", tags=["bind"])


@router.get("/pieces/{piece}/joints")
def joints(piece: int) -> list[BindJointOut]:
    """Return every joint of the piece's wearer, and how much of the piece it bears."""
    _, stands, recipe = standing(piece)
    names = wearer_of(recipe).skeleton.names
    bears = np.zeros(len(names) + 1)
    if stands.skin is not None:
        bears = np.bincount(np.minimum(stands.skin.joints, len(names)).ravel(), stands.skin.weights.ravel(), minlength=len(names) + 1)
    return [BindJointOut(name=n, label=region_name(n), bears=round(float(b), 2)) for n, b in zip(names, bears[:-1], strict=True)]


@router.post("/pieces/{piece}/bend-test")
def bend(piece: int) -> list[BendOut]:
    """Swing each joint near the piece through its range and return the worst of each swing, the worst first."""
    row, stands, recipe = standing(piece)
    if stands.skin is None:
        raise InputError(what="the piece is not bound yet", where=row["name"], todo="Bind it first.")
    body = body_for(recipe.body, recipe.made_on, 1)
    found = bend_test(stands, shaped(body, shape_values(body, recipe.made_on)))
    return [BendOut(joint=b.joint, label=region_name(b.joint), swing=b.swing, degrees=round(b.degrees, 1), stretch=round(b.stretch, 3),
                    depth_mm=round(1000 * b.depth, 2), rotations=b.rotations) for b in found]


class _Painting:
    """One artist's weight brush on one piece; strokes are kept by the browser as alterations, the session shows them at once."""

    def __init__(self, piece: int) -> None:
        row, stands, recipe = standing(piece)
        if stands.skin is None:
            raise InputError(what="the piece is not bound yet", where=row["name"], todo="Bind it first.")
        received = stands.mesh.received
        self.rows = received if received is not None else np.arange(len(stands.mesh.points))
        self.brush = WeightBrush(stands.mesh, stands.skin, stands.riders, wearer_of(recipe))
        self.stroke: Weigh | None = None
        self.dabs: list[int] = []
        self.before = self.brush.dense.copy()

    def answer(self, asked: dict) -> bytes:
        """Do what a message asks and return the frame to send back; raises `HeronError` or `ValidationError` for what cannot be done."""
        began, notes = time.perf_counter(), {}
        rows = np.zeros(0, np.int64)
        match asked.get("do"):
            case "begin":
                self.stroke, self.dabs = Weigh.model_validate({**(asked.get("stroke") or {}), "kind": "weigh", "dabs": ()}), []
                self.before = self.brush.dense.copy()
                rows = self._dab(asked)
            case "dab":
                rows = self._dab(asked)
            case "cancel":
                rows = np.flatnonzero((self.brush.dense != self.before).any(axis=1))
                self.brush.dense[rows] = self.before[rows]
                self.stroke = None
            case "end" if self.stroke is not None:
                notes = {"stroke": self.stroke.model_copy(update={"dabs": tuple(self.dabs)}).model_dump(mode="json")}
                self.stroke = None
        skin = self.brush.weights(rows)
        arrays = {"rows": rows.astype("<i4"), "joints": skin.joints.astype("<u2"), "weights": skin.weights.astype("<f4")}
        return array_frame(arrays, {"seq": asked.get("seq", 0), "ms": round(1000 * (time.perf_counter() - began), 2), **notes})

    def _dab(self, asked: dict) -> np.ndarray:
        vertex = int(asked.get("vertex", -1))
        if self.stroke is None or not 0 <= vertex < len(self.rows) or len(self.dabs) >= 4000:
            return np.zeros(0, np.int64)
        rows = self.brush.dab(self.stroke, int(self.rows[vertex]))  # before it is noted, so that a joint that is not there is told
        self.dabs.append(int(self.rows[vertex]))
        return rows


@router.websocket("/pieces/{piece}/weights")
async def weights(socket: WebSocket, piece: int) -> None:
    """Messages in are JSON (`do`: begin, dab, end, cancel), frames out are binary: the rows whose weights changed, and those weights."""
    await serve(socket, lambda: _Painting(piece))


@router.post("/wear", status_code=201)
def wear(production: ProductionId, artist: Artist, asked: WearIn) -> WearOut:
    """Wear every piece of the rail on these wearers, or the whole cast, as jobs; each row says done, mended, or needs you."""
    with transaction() as connection:
        cast = [w for w in run(connection, "cast_of", production=production) if asked.wearers is None or w["id"] in asked.wearers]
        pieces = [p for p in run(connection, "pieces_of", production=production) if p["status"] == "done" and p["geometry_sha"]]
        if not cast or not pieces:
            raise InputError(what="there is no one to wear it" if pieces else "nothing stands on the rail", where="wearing on",
                             todo="Add a wearer to the cast." if pieces else "Bring in a piece first.")
        before = one(connection, "latest_wear_run", production=production)
        if before:
            run(connection, "cancel_wear_run", run=before["id"])
        made = run(connection, "add_wear_run", production=production)[0]["id"]
        pairs = [(p["id"], w["id"]) for w in cast for p in sorted(pieces, key=lambda p: p["rail"])]
        for piece, wearer in pairs:
            run(connection, "add_wear_row", run=made, piece=piece, wearer=wearer)
        notify(connection, "wear", run=made)
    for piece, wearer in pairs:
        ask("wear_piece", priority=6, run_id=made, piece=piece, wearer=wearer, author=artist)
    return _run(made)


@router.delete("/wear/{run_id}")
def stop_wearing(run_id: int) -> WearOut:
    """Stop a run; what is done stays."""
    with transaction() as connection:
        run(connection, "cancel_wear_run", run=run_id)
        notify(connection, "wear", run=run_id)
    return _run(run_id)


def _run(run_id: int) -> WearOut:
    with transaction() as connection:
        row = one(connection, "wear_run", run=run_id)
        if row is None:
            raise NotFound(what=f"there is no run {run_id}", where="wearing on", todo="Start a new one.")
        return wear_out(connection, row)


@router.get("/wear")
def latest_run(production: ProductionId) -> WearOut | None:
    """Return the newest run of wearing on, if there is one."""
    with transaction() as connection:
        row = one(connection, "latest_wear_run", production=production)
        return wear_out(connection, row) if row else None


def wear_out(connection: Connection, row: dict) -> WearOut:
    """Return a run with its rows as it goes over the wire."""
    rows = run(connection, "wear_rows", run=row["id"])
    return WearOut(id=row["id"], state=row["state"], rows=[WearRowOut(
        piece=r["piece_id"], piece_name=r["piece"], wearer=r["wearer_id"], wearer_name=r["wearer"], state=r["state"],
        under_before=r["under_before"], under_after=r["under_after"], why=r["why"]) for r in rows])
