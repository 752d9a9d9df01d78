"""The clear step on a piece as it stands: eased out or tucked in, or what is covered hidden."""

from collections.abc import Callable
from dataclasses import asdict, replace

import numpy as np

from ..figure.base.body import Body, shape_values
from ..model.state import Piece
from ..model.steps.recipe import Clear, Hide
from ..motion.own_poses import pose_for
from .clear_cells import clear_cells
from .hide import covered_cloth, covered_faces
from .keep_best import Kept, clear_best
from .layers import Layers
from .pose_fix import clear_poses, clear_skin
from .together import clear_together
from .wear_on import clear_wearers


def cleared(state: Piece, body: Body, step: Clear | Hide, layer_of: Callable[[str], Piece]) -> Piece:
    """Return the piece after one alteration of the clear step; its report gains what that came to."""
    layers = Layers(tuple(map(layer_of, step.over)), tuple(map(layer_of, step.outer)))
    cells = [(shape_values(body, cell.shape), pose_for(cell.pose, cell.rotations)) for cell in step.cells]
    if isinstance(step, Hide):
        return _left_out(state, body, step, cells, layers) if step.of == "cloth" else _hidden(state, body, step, cells, layers)
    ways: list[Kept] = []
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
    reports = [{"pose": cell.pose, **report} for cell, report in zip(step.cells, found, strict=True)]
    told = {"cells": reports, "cleared": sum(r["after"]["places"] == 0 for r in reports if "after" in r), "of": len(reports),
            "ways": [asdict(k) for k in ways]}
    return replace(done, report={**state.report, "clear": [*state.report.get("clear", []), told]})


def _hidden(state: Piece, body: Body, step: Hide, cells: list, layers: Layers) -> Piece:
    """Return the piece with the skin under it left out."""
    by_hand = step.by_hand or bool(step.faces)
    faces = np.array(step.faces, np.int32) if by_hand else covered_faces(state, body, cells, layers, step.rings)
    faces = faces[faces < len(body.triangles)]
    report = {"faces": len(faces), "of": len(body.triangles), "cells": len(cells), "by_hand": by_hand}
    return replace(state, hidden=faces if len(faces) else None, report={**state.report, "hide": report})


def _left_out(state: Piece, body: Body, step: Hide, cells: list, layers: Layers) -> Piece:
    """Return the piece without those of its own faces that are covered; faces chosen by hand on another mesh do not count."""
    count = len(state.mesh.triangles)
    by_hand = step.by_hand or bool(step.faces)
    drawn = np.array(step.faces if step.count == count else (), np.int32)
    faces = drawn[drawn < count] if by_hand else covered_cloth(state, body, cells, layers, step.rings)
    report = {"faces": len(faces), "of": count, "cells": len(cells), "by_hand": by_hand}
    return replace(state, left_out=faces if len(faces) else None, report={**state.report, "leave_out": report})
