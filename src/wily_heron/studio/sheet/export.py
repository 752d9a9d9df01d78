"""A run of the sheet as a table, as data or as one picture; the outfit on a wearer as a pack."""

from typing import Any, Literal

import orjson

from ...core.errors import InputError
from ...core.figure.base.body import standing_at
from ...core.model.pack import Pack, PackedPiece
from ...core.model.steps.fit import Fit
from ...formats.images.png import read_png, write_sheet
from ...formats.pack.write import write_pack
from ...formats.slug import slug
from ...formats.trial_table import trial_csv
from ...store.db import get_blob, transaction
from ...store.productions.motions import motion_names
from ...store.productions.poses import axis_poses
from ...store.productions.production import get_production
from ...store.productions.wearers import cast_of, get_wearer
from ...store.rail.pieces import PieceRow, piece_at, pieces_of
from ...store.sheet.trials import CellRow, figures_json
from ..wearer import wearer_as
from ..worn import standing_on, textures_of, worn
from . import trials
from .columns import MOTION


def sheet_as(trial: int, kind: Literal["csv", "json", "png"]) -> bytes:
    """Return a run of the sheet. Raises `InputError` for a picture of one in which no cell has one."""
    made = trials.get(trial)
    with transaction() as connection:
        production = get_production(connection, made.trial.production)
        cast = {w.id: w.name for w in cast_of(connection, production.id)}
        columns = {p.name: p.label for p in axis_poses(connection, production.id)}
        columns |= {MOTION + name: label for name, label, _ in motion_names(connection)}
        pictures = {(c.wearer, c.pose): get_blob(connection, c.picture) for c in made.cells if c.picture} if kind == "png" else {}

    def label(cell: CellRow) -> str:
        return columns.get(cell.pose, cell.pose)

    cells = [c for c in made.cells if c.wearer in cast]
    if made.trial.state == "running":  # what a cell was before is no part of this run
        cells = [c.model_copy(update={"figures": None, "picture": None}) if c.key in made.stale else c for c in cells]
    if kind == "csv":
        return trial_csv((cast[c.wearer], label(c), c.figures) for c in cells)
    if kind == "json":
        rows = [{"wearer": cast[c.wearer], "pose": c.pose, **(figures_json(c.figures) if c.figures else {"error": c.error})} for c in cells]
        return orjson.dumps({"trial": trial, "measured_at": made.trial.started_at, "state": made.trial.state, "cells": rows},
                            option=orjson.OPT_INDENT_2)
    shown = {(cast[c.wearer], label(c)): (c.figures, read_png(pictures[c.wearer, c.pose]))
             for c in cells if c.figures and (c.wearer, c.pose) in pictures}
    if not shown:
        raise InputError(what="no cell has a picture yet", where="the trial sheet", todo="Wait for the first cells.")
    who = list(dict.fromkeys(cast[c.wearer] for c in cells))
    return write_sheet(production.name, who, list(dict.fromkeys(label(c) for c in cells)), shown)


def pack_of(wearer: int) -> tuple[str, bytes]:
    """Return the outfit on a wearer as a pack (.glb) and its file name: with the cast and poses as clips and what the last trial found.

    Raises `InputError` for a piece that is not bound and following.
    """
    with transaction() as connection:
        who = get_wearer(connection, wearer)
        rail, everyone = pieces_of(connection, who.production), cast_of(connection, who.production)
        poses = {pose.name: pose for pose in axis_poses(connection, who.production)}
    cast = {w.name: w.shape for w in everyone if w.body == who.body and w.outfit == who.outfit}
    standing = standing_on(rail, who)
    if not standing:
        raise InputError(what="nothing is worn yet", where="packing", todo="Bring in a piece first.")
    on = wearer_as(who.body, who.shape)
    packed = tuple(PackedPiece(name, piece.category, piece_at(_bound(piece)).standing_on(on.shape), _ease(piece))
                   for piece, (name, _) in zip(standing, worn(standing, who), strict=True))
    textures = {t.name: t for piece in standing for t in textures_of(piece.worn or "")}
    checked = _checked(who.production, {w.id: w.name for w in everyone})
    data = write_pack(Pack(standing_at(on), who.name, packed, cast, poses, checked, textures=tuple(textures.values())))
    return f"{slug(who.name)}.glb", data


def _bound(piece: PieceRow) -> str:
    """Return the address of what is worn of a piece. Raises `InputError` where it is not bound and following."""
    kinds = {step.kind for step in piece.recipe.steps}
    if not {"bind", "follow"} <= kinds:
        raise InputError(what=f"{piece.name} is not bound and following yet", where="packing",
                         todo="Do its Bind and Follow steps first, or take it off the rail.")
    return piece.worn or ""


def _ease(piece: PieceRow) -> float:
    return next((step.ease for step in piece.recipe.steps if isinstance(step, Fit)), 0.0)


def _checked(production: int, names: dict[int, str]) -> dict[str, Any]:
    """Return what the last trial found, if nothing has changed since and it was of what each has on."""
    made = trials.latest(production)
    if made is None or made.stale or made.trial.of_outfit is not None:
        return {}
    return {"cells": [{"wearer": names.get(c.wearer, "?"), "pose": c.pose, "clearance_mm": c.figures.clearance_mm,
                       "area_cm2": c.figures.area_cm2, "pairs": [
                           {"over": p.over, "under": p.under, "clearance_mm": p.clearance_mm, "area_cm2": p.area_cm2}
                           for p in c.figures.pairs]} for c in made.cells if c.figures]}
