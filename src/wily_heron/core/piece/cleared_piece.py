"""The clear step on a piece as it stands: eased out or tucked in, or the skin under it hidden."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from ..clearance.clear_cells import clear_cells
from ..clearance.hide import covered_faces
from ..clearance.layers import Layers
from ..figure.body import Body, shape_values
from ..figure.own_poses import pose_for
from ..follow.wear_on import clear_wearers
from .pose_fix import clear_poses, clear_skin
from .recipe import Clear, Hide
from .state import Piece


def cleared(state: Piece, body: Body, step: Clear | Hide, layer_of: Callable[[str], Piece]) -> Piece:
    """Return the piece after one alteration of the clear step; its report gains what that came to."""
    layers = Layers(tuple(map(layer_of, step.over)), tuple(map(layer_of, step.outer)))
    cells = [(shape_values(body, cell.shape), pose_for(cell.pose, cell.rotations)) for cell in step.cells]
    if isinstance(step, Hide):
        faces = np.array(step.faces, np.int32) if step.faces else covered_faces(state, body, cells, layers, step.rings)
        faces = faces[faces < len(body.triangles)]
        report = {**state.report, "hide": {"faces": len(faces), "of": len(body.triangles), "cells": len(cells)}}
        return replace(state, hidden=faces if len(faces) else None, report=report)
    if step.way == "skin":
        done, found = clear_skin(state, body, cells, layers, step.keep == "rest")
    elif step.keep == "pose":
        done, found = clear_poses(state, body, cells, step.ease, layers, step.way, step.loose)
    elif step.keep == "shape":
        done, found = clear_wearers(state, body, cells, step.ease, layers)
    else:
        done, found = clear_cells(state, body, cells, step.ease, layers, step.way)
    reports = [{"pose": cell.pose, **report} for cell, report in zip(step.cells, found, strict=True)]
    told = {"cells": reports, "cleared": sum(r["after"]["places"] == 0 for r in reports if "after" in r), "of": len(reports)}
    return replace(done, report={**state.report, "clear": [*state.report.get("clear", []), told]})
