"""The cell on the stage, measured at once."""

import os
from functools import lru_cache

from fastapi import APIRouter, Response

from ...core.errors import InputError
from ...core.figure.base.body import shape_values
from ...core.figure.base.shapes import EXTRAS
from ...core.figure.correctives import DRIVEN
from ...core.figure.extras import with_extras
from ...core.figure.figure import figure
from ...core.motion.own_poses import pose_for
from ...store.arrays import array_frame, moved_rows
from ...store.bodies import body_for
from ...store.db import run, transaction
from ...store.shots import shots_in, shots_of
from ..deps import ProductionId
from ..dressing import dressed_for, shown, worn
from ..schemas import CellIn

router = APIRouter(prefix="/api", tags=["cells"])
_THREADS = min(len(os.sched_getaffinity(0)), 4)
"""The stage waits for its cell: its pairs are measured side by side."""


@router.post("/cell", response_class=Response, responses={200: {"content": {"application/octet-stream": {}}}})
def measure(production: ProductionId, cell: CellIn) -> Response:
    """Return the figures of a cell (frame notes) with the clearance of each piece vertex and what of the body stands out (metres)."""
    pose = pose_for(cell.pose, cell.rotations)
    shape_values(body_for(cell.body, cell.shape), cell.shape)
    with transaction() as connection:
        rows, shots = run(connection, "pieces_of", production=production), shots_of(connection, production)
    pieces = worn(rows, cell.body, bool(cell.unfinished)) if cell.pieces is None else shown(rows, cell.pieces)
    if not pieces:
        raise InputError(what="nothing is worn yet", where="this cell", todo="Bring in a piece first.")
    dressed, lock = dressed_for(cell.body, cell.shape, pieces)
    with lock:
        result = dressed.measure(pose, look_for_holes=True, shots=shots_in(shots, cell.wearer, cell.pose), threads=_THREADS)
        arrays = {"stands_out": result.stands_out().astype("<f4"), "hole_faces": result.hole_faces.astype("<i4")}
        maps = dressed.clearance_maps(result, _THREADS)
        arrays |= {f"clearance:{layer.name}": found for layer, found in zip(result.layers, maps, strict=True)}
    return Response(array_frame(arrays, {"figures": result.figures}), media_type="application/octet-stream")


@router.get("/figure", response_class=Response, responses={200: {"content": {"application/octet-stream": {}}}})
def get_figure(level: int = 2, body: str | None = None) -> Response:
    """Return the figure's arrays at level 1 or 2, or those of a body of one's own, as one frame: base, shape deltas in hundredths of a
    millimetre, skeleton, skin."""
    return Response(_figure_frame(level, body), media_type="application/octet-stream", headers={"Cache-Control": "no-cache"})


@lru_cache(maxsize=4)
def _figure_frame(level: int, own: str | None) -> bytes:
    body = body_for(own, {}) if own else with_extras(EXTRAS, level)
    arrays = {
        "points": body.base, "triangles": body.triangles, "skin_joints": body.skin.joints.astype("<u2"), "skin_weights": body.skin.weights,
        **moved_rows(body.deltas), "joints": body.skeleton.positions.astype("<f4"),
        "joint_parents": body.skeleton.parents, "joint_deltas": body.joint_deltas.astype("<f4"), "floor": body.floor.astype("<i4"),
    }
    driven = [[body.shapes.index(shape), body.skeleton.index(joint)] for shape, joint in DRIVEN.items() if shape in body.shapes]
    count = len(body.base) if own else len(figure(level).base)
    notes = {"joint_names": list(body.skeleton.names), "shapes": list(body.shapes), "driven": driven, "own": count}
    return array_frame(arrays, notes)
