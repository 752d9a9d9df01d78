"""The production: its cast, poses, pieces, motions and shots in one answer."""

import numpy as np
from fastapi import APIRouter

from ...core.bench.reports import Reports
from ...core.errors import InputError
from ...core.figure.base.body import Body, shape_values
from ...core.figure.base.pose_types import Pose
from ...core.figure.base.shapes import GROWN, SHAPES
from ...core.motion.retarget import rotations_on
from ...store import wearers
from ...store.bodies import body_for
from ...store.db import one, run, transaction
from ...store.motions import motion_names, sheet_motions
from ...store.poses import pose_of
from ...store.shots import shots_of
from ..deps import Artist, ProductionId, the_production
from ..schemas import BodyOut, MotionOut, PieceOut, PoseOut, ProductionOut, ShapeIn, ShapeOut, WearerIn, WearerOut
from ..schemas_shots import shots_out

router = APIRouter(prefix="/api", tags=["production"])

@router.get("/production")
def get_production() -> ProductionOut:
    """Return what the Fitting room shows."""
    with transaction() as connection:
        production = the_production(connection)
        cast = run(connection, "cast_of", production=production["id"])
        poses = [pose_of(connection, row["pose"]) for row in run(connection, "poses_of", production=production["id"])]
        pieces = [piece_out(row) for row in run(connection, "pieces_of", production=production["id"])]
        on_sheet = set(sheet_motions(connection, production["id"]))
        motions = [MotionOut(name=n, label=label, seconds=s) for n, label, s in motion_names(connection) if n in on_sheet]
        shots = shots_of(connection, production["id"])
        bodies = run(connection, "bodies_of", production=production["id"])
    return ProductionOut(
        name=production["name"], shapes=[ShapeOut(**vars(s)) for s in SHAPES + GROWN],
        bodies=[body_out(row, poses) for row in bodies],
        cast=[WearerOut(body=w["body_sha"], **{k: w[k] for k in ("id", "name", "shape", "can_undo", "can_redo")}) for w in cast],
        poses=[pose_out(p) for p in poses],
        motions=motions,
        shots=shots_out(shots),
        pieces=pieces,
    )


def pose_out(pose: Pose, body: Body | None = None) -> PoseOut:
    """Return a pose as it goes over the wire, on the joints of `body` if it is one's own."""
    turns = rotations_on(pose, body.skeleton, body.posed_like) if body else pose.rotations
    rotations = {j: np.asarray(q, float).tolist() for j, q in turns.items()}
    return PoseOut(name=pose.name, label=pose.label, family=pose.family, rotations=rotations)


def body_out(row: dict, poses: list[Pose]) -> BodyOut:
    """Return a body of one's own as it goes over the wire."""
    body, found = body_for(row["sha"], {}), row["found"]
    shapes = [ShapeOut(name=s, label=s.replace("_", " ").capitalize(), group="Its own", more="more", less="less", sided=False, least=-1.0)
              for s in body.shapes]
    return BodyOut(body=row["sha"], name=row["name"], shapes=shapes, own_skeleton=found["own_skeleton"], joints=found["joints"],
                   vertices=found["vertices"], stature=found["stature"], registered_mm=found["registered_mm"],
                   poses=[pose_out(p, body) for p in poses])


def piece_out(row: dict) -> PieceOut:
    """Return a row of `pieces_of` as it goes over the wire."""
    return PieceOut(
        id=row["id"], name=row["name"], category=row["category"], rail=row["rail"], file_name=row["file_name"], stock=row["stock_id"],
        colourway=row["colourway"], edit=row["edit_id"],
        recipe=row["recipe"], label=row["label"], author=row["author"], made_at=row["made_at"], status=row["status"],
        report=Reports.model_validate(row["report"] or {}), error=row["error"], geometry=row["geometry_sha"],
        finished=row["worn_sha"] if row["worn_sha"] != row["geometry_sha"] else None,
        before=row["before_sha"], thumb=row["thumb_sha"],
        undo_label=row["undo_label"] if row["can_undo"] else None, redo_label=row["redo_label"],
    )


@router.post("/wearers", status_code=201)
def add_wearer(production: ProductionId, artist: Artist, wearer: WearerIn) -> WearerOut:
    """Add a wearer to the cast."""
    shape_values(body_for(wearer.body, wearer.shape), wearer.shape)
    with transaction() as connection:
        if any(w["name"] == wearer.name for w in run(connection, "cast_of", production=production)):
            raise InputError(what=f"there is already a wearer called {wearer.name}", where="the cast", todo="Choose another name.")
        made = wearers.add_wearer(connection, production, wearer.name, wearer.shape, artist, wearer.body)
    return WearerOut(id=made, name=wearer.name, shape=wearer.shape, body=wearer.body)


@router.delete("/wearers/{wearer}", status_code=204)
def drop_wearer(wearer: int) -> None:
    """Take a wearer out of the cast; a body of one's own stays in stock, pieces stay where they are."""
    with transaction() as connection:
        wearers.drop_wearer(connection, wearer)


@router.put("/wearers/{wearer}/shape")
def set_shape(artist: Artist, wearer: int, settings: ShapeIn) -> WearerOut:
    """Keep new shape settings for a wearer; they can be undone."""
    with transaction() as connection:
        body = (one(connection, "wearer", wearer=wearer) or {}).get("body_sha")
    shape_values(body_for(body, settings.shape), settings.shape)
    with transaction() as connection:
        name = wearers.set_shape(connection, wearer, settings.shape, artist)
    return WearerOut(id=wearer, name=name, shape=settings.shape, body=body, can_undo=True)


@router.post("/wearers/{wearer}/undo")
def undo_shape(wearer: int) -> WearerOut:
    """Go back to the wearer's shape before."""
    with transaction() as connection:
        name, shape = wearers.step(connection, wearer, "undo")
    return WearerOut(id=wearer, name=name, shape=shape, can_redo=True)


@router.post("/wearers/{wearer}/redo")
def redo_shape(wearer: int) -> WearerOut:
    """Go forward to the wearer's shape after."""
    with transaction() as connection:
        name, shape = wearers.step(connection, wearer, "redo")
    return WearerOut(id=wearer, name=name, shape=shape, can_undo=True)
