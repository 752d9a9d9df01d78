"""The clear step on a piece as it stands: eased out or tucked in, or what is covered hidden."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from ..figure.base.body import Body, shape_values
from ..model.state import Piece
from ..model.steps.clear import Clear, ClearedCell, ClearReport, Hide, HideReport, LeaveOutReport, WayKept
from ..motion.own_poses import pose_for
from ..motion.pose import Pose
from .clear_cells import clear_cells
from .hide import covered_cloth, covered_faces
from .keep_best import clear_best
from .layers import Layers
from .outfit.together import clear_together
from .pose_fix import clear_poses, clear_skin
from .wear_on import clear_wearers

LayerOf = Callable[[str], Piece]


def cleared(state: Piece, body: Body, step: Clear, layer_of: LayerOf) -> tuple[Piece, ClearReport]:
    """Return the piece cleared in the cells of the step, and what that came to."""
    cells, layers = _asked(body, step, layer_of)
    ways: list[WayKept] = []
    if step.way == "outfit":
        done, found = clear_together(state, body, cells, step.ease, layers)
    elif step.way == "skin":
        done, found = clear_skin(state, body, cells, layers, step.keep == "rest")
    elif step.keep == "best":
        done, found, ways = clear_best(state, body, cells, step.ease, layers, step.way, step.loose)
    elif step.keep == "pose":
        done, found = clear_poses(state, body, cells, step.ease, layers, step.way, step.loose)
    elif step.keep == "shape":
        done, found = clear_wearers(state, body, cells, step.ease, layers)
    else:
        done, found = clear_cells(state, body, cells, step.ease, layers, step.way)
    reports = tuple(ClearedCell(pose=cell.pose, **dict(report)) for cell, report in zip(step.cells, found, strict=True))
    clean = sum(r.after is not None and r.after.places == 0 for r in reports)
    return done, ClearReport(cells=reports, cleared=clean, of=len(reports), ways=tuple(ways))


def hidden(state: Piece, body: Body, step: Hide, layer_of: LayerOf) -> tuple[Piece, HideReport]:
    """Return the piece with the skin under it left out, and how much that is."""
    cells, layers = _asked(body, step, layer_of)
    by_hand = step.by_hand or bool(step.faces)
    faces = np.array(step.faces, np.int32) if by_hand else covered_faces(state, body, cells, layers, step.rings)
    faces = faces[faces < len(body.triangles)]
    report = HideReport(faces=len(faces), of=len(body.triangles), cells=len(cells), by_hand=by_hand)
    return replace(state, hidden=faces if len(faces) else None), report


def left_out(state: Piece, body: Body, step: Hide, layer_of: LayerOf) -> tuple[Piece, LeaveOutReport]:
    """Return the piece without those of its own faces that are covered, and how many; faces chosen by hand on another mesh do not
    count."""
    cells, layers = _asked(body, step, layer_of)
    count = len(state.mesh.triangles)
    by_hand = step.by_hand or bool(step.faces)
    drawn = np.array(step.faces if step.count == count else (), np.int32)
    faces = drawn[drawn < count] if by_hand else covered_cloth(state, body, cells, layers, step.rings)
    report = LeaveOutReport(faces=len(faces), of=count, cells=len(cells), by_hand=by_hand)
    return replace(state, left_out=faces if len(faces) else None), report


def _asked(body: Body, step: Clear | Hide, layer_of: LayerOf) -> tuple[list[tuple[np.ndarray, Pose]], Layers]:
    cells = [(shape_values(body, cell.shape), pose_for(cell.pose, cell.rotations)) for cell in step.cells]
    return cells, Layers(tuple(map(layer_of, step.over)), tuple(map(layer_of, step.outer)))
