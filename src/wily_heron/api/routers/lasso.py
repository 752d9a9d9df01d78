"""Hiding by hand: faces within a line drawn on the stage, and the holes that would open without them."""

import numpy as np
from fastapi import APIRouter

from ...core.clear.hide import missed_in
from ...core.clearance.lasso import faces_within
from ...core.errors import InputError
from ...core.figure.base.body import shape_values, shaped
from ...core.figure.base.pose_types import Pose
from ...core.model.worn import worn_points
from ...core.motion.own_poses import pose_for
from ...core.motion.pose import posed_body
from ...store.bodies import body_for
from ...store.db import run, transaction
from ...store.pieces import get_piece, piece_at
from ...store.poses import pose_of
from ..deps import ProductionId
from ..dressing import worn
from ..schemas_lasso import LassoIn, LassoOut, OpenCellOut

router = APIRouter(prefix="/api/pieces", tags=["clear"])
_CELLS = 60
"""So many cells of the sheet are tried for holes at most."""
_NONE = np.zeros(0, np.int32)


@router.post("/{piece}/lasso")
def lasso(production: ProductionId, piece: int, asked: LassoIn) -> LassoOut:
    """Return what a line round part of the stage would leave out, and the cells in which it would be missed; nothing is changed."""
    with transaction() as connection:
        row = get_piece(connection, piece)
        rows = run(connection, "pieces_of", production=production)
        cast = [w for w in run(connection, "cast_of", production=production) if w["body_sha"] == asked.cell.body]
        poses = [pose_of(connection, r["pose"]) for r in run(connection, "poses_of", production=production)]
    mine = worn(rows, asked.cell.body, unfinished=True)
    pieces = {name: piece_at(sha) for name, sha in mine}
    name = next((n for n, sha in mine if sha == row["geometry_sha"]), None)
    if name is None:
        raise InputError(what=f"{row['name']} is not worn here", where="hiding by hand", todo="Choose a piece of this wearer's rail.")
    own, body = pieces[name], body_for(asked.cell.body, asked.cell.shape)
    cloth = asked.of == "cloth"
    gone = own.left_out if cloth else own.hidden
    held = _NONE if gone is None else gone
    here = (asked.cell.shape, pose_for(asked.cell.pose, asked.cell.rotations))
    wearer = shaped(body, shape_values(body, here[0]))
    triangles = own.mesh.triangles if cloth else body.triangles
    points = worn_points(own, wearer, here[1]) if cloth else posed_body(wearer, here[1])
    chosen = faces_within(points, triangles, np.array(asked.clip).reshape(4, 4), np.array(asked.outline))
    faces = np.union1d(held, chosen) if asked.how == "hide" else np.setdiff1d(held, chosen)
    faces, fresh = faces.astype(np.int32), np.setdiff1d(faces, held).astype(np.int32)
    open_, missed, tried = [], np.zeros(len(triangles), bool), _tried(cast, poses, here)
    at = list(pieces).index(name) if cloth else None
    for who, shape, pose in tried if len(fresh) else ():
        area, seen = missed_in(list(pieces.values()), body, (shape_values(body, shape), pose), fresh, at)
        missed[seen] = True
        if 1e4 * area > 0.1:
            open_.append(OpenCellOut(wearer=who, pose=pose.label, area_cm2=round(1e4 * area, 2)))
    open_.sort(key=lambda c: -c.area_cm2)
    return LassoOut(faces=faces.tolist(), safe=faces[~missed[faces]].tolist(), count=len(triangles), added=len(faces) - len(held),
                    cells=len(tried), open=open_)


def _tried(cast: list[dict], poses: list[Pose], here: tuple[dict, Pose]) -> list[tuple[str, dict, Pose]]:
    """The cell in hand, then those of the sheet, wearer by wearer in turn, at most so many."""
    name = next((w["name"] for w in cast if w["shape"] == here[0]), "this wearer")
    sheet = [(w["name"], w["shape"], p) for p in poses for w in cast if (w["shape"], p.name) != (here[0], here[1].name)]
    return [(name, *here), *sheet][:_CELLS]
