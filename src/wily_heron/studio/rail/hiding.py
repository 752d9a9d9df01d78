"""Hiding by hand: faces within a line drawn on the stage, and the holes that would open without them."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ...core.clear.hide import missed_in
from ...core.clearance.lasso import faces_within
from ...core.errors import InputError
from ...core.figure.base.body import shape_values, shaped
from ...core.figure.base.pose_types import Pose
from ...core.model.worn import worn_points
from ...core.motion.pose import posed_body
from ...store.db import transaction
from ...store.productions.poses import axis_poses
from ...store.productions.wearers import CastRow, cast_of
from ...store.rail.pieces import get_piece, piece_at, rail_of
from ..stage_cell import StageCell
from ..worn import Rail, worn

_CELLS = 60
"""So many cells of the sheet are tried for holes at most."""
_NONE = np.zeros(0, np.int32)
_MISSED = 0.1
"""A hole of at most this (cm2) is not told of."""
Tried = tuple[str, dict[str, float], Pose]
"""A cell that is tried: the wearer's name, shape settings, the pose."""


@dataclass(frozen=True)
class Line:
    """A line drawn on the stage: the camera's `clip` matrix (4, 4), the `outline` (k, 2) in normalised device coordinates; what is meant,
    the skin under the piece or the piece itself, and whether it is to be hidden or brought back."""

    clip: np.ndarray
    outline: np.ndarray
    of: Literal["skin", "cloth"]
    how: Literal["hide", "show"]


@dataclass(frozen=True)
class Hidden:
    """What would be left out altogether, `added` of it new, of `count` faces; `safe` are those that can be missed in none of the `cells`
    tried, `open` the cells in which a hole would open: wearer, pose, cm2."""

    faces: np.ndarray
    safe: np.ndarray
    count: int
    added: int
    cells: int
    open: list[tuple[str, str, float]]


def within(production: int, piece: int, cell: StageCell, line: Line) -> Hidden:
    """Return what a line round part of the stage would leave out, and the cells in which it would be missed; nothing is changed."""
    with transaction() as connection:
        row, rail = get_piece(connection, piece), rail_of(connection, production)
        cast = [w for w in cast_of(connection, production) if w.body == cell.body and w.outfit == row.outfit]
        poses = axis_poses(connection, production)
    mine = worn(rail, Rail(row.outfit, cell.body), unfinished=True)
    name = next((n for n, sha in mine if sha == row.geometry), None)
    if name is None:
        raise InputError(what=f"{row.name} is not worn here", where="hiding by hand", todo="Choose a piece of this wearer's rail.")
    pieces = {n: piece_at(sha) for n, sha in mine}
    own, body, cloth = pieces[name], cell.on(), line.of == "cloth"
    wearer, pose = shaped(body, shape_values(body, cell.shape)), cell.stance()
    triangles = own.mesh.triangles if cloth else body.triangles
    points = worn_points(own, wearer, pose) if cloth else posed_body(wearer, pose)
    chosen, gone = faces_within(points, triangles, line.clip, line.outline), own.left_out if cloth else own.hidden
    held = _NONE if gone is None else gone
    faces = (np.union1d(held, chosen) if line.how == "hide" else np.setdiff1d(held, chosen)).astype(np.int32)
    fresh = np.setdiff1d(faces, held).astype(np.int32)
    open_: list[tuple[str, str, float]] = []
    missed, tried = np.zeros(len(triangles), bool), _tried(cast, poses, (cell.shape, pose))
    at = list(pieces).index(name) if cloth else None
    for who, shape, in_pose in tried if len(fresh) else ():
        area, seen = missed_in(list(pieces.values()), body, (shape_values(body, shape), in_pose), fresh, at)
        missed[seen] = True
        if 1e4 * area > _MISSED:
            open_.append((who, in_pose.label, round(1e4 * area, 2)))
    open_.sort(key=lambda hole: -hole[2])
    return Hidden(faces, faces[~missed[faces]], len(triangles), len(faces) - len(held), len(tried), open_)


def _tried(cast: Sequence[CastRow], poses: Sequence[Pose], here: tuple[dict[str, float], Pose]) -> list[Tried]:
    """The cell in hand, then those of the sheet, wearer by wearer in turn, at most so many."""
    name = next((w.name for w in cast if w.shape == here[0]), "this wearer")
    sheet = [(w.name, w.shape, p) for p in poses for w in cast if (w.shape, p.name) != (here[0], here[1].name)]
    return [(name, *here), *sheet][:_CELLS]
