"""The trial of a pack, headless: every wearer in every pose, or in the worst frame of every motion."""

from collections.abc import Iterator, Mapping
from dataclasses import replace
from pathlib import Path
from typing import Annotated

import numpy as np
import typer

from ..core.clearance.cell import CLEAN_AREA, CellResult, Dressed
from ..core.clearance.figures import Figures
from ..core.clearance.find.shots import Shot
from ..core.clearance.trial import trial as run_trial
from ..core.clearance.trial import worst_frame
from ..core.errors import InputError
from ..core.explain.explain import explain
from ..core.explain.failing_pair import Case
from ..core.explain.remedies import Trying
from ..core.figure.base.body import shape_values, shaped
from ..core.figure.base.pose_types import REST, Pose
from ..core.figure.cast import CAST
from ..core.look.portrait import cell_portrait
from ..core.model.pack import Pack
from ..core.motion.pose_library import POSES, pose_named
from ..core.motion.random_poses import random_poses
from ..formats.gltf.shots import read_shots
from ..formats.images.png import write_sheet
from ..formats.pack.read import read_pack
from ..formats.piece_read import read_file
from ..formats.slug import slug
from ..formats.trial_table import trial_csv
from .files import DEMO_POSES, Json, motion_named, report, write_whole

Settings = Mapping[str, Mapping[str, float]]


def trial(pack: Path, bodies: Annotated[str | None, typer.Option(help="Wearers, by comma; all of the pack's cast if left out.")] = None,
          poses: Annotated[str | None, typer.Option(help="Poses, by comma.")] = None,
          motions: Annotated[str | None, typer.Option(help="Clips of the house or .bvh files, by comma: the worst frame of each.")] = None,
          json: Json = None,
          sheet: Annotated[Path | None, typer.Option(help="Write the sheet as PNG.")] = None,
          table: Annotated[Path | None, typer.Option(help="Write the places as CSV.")] = None,
          limit: Annotated[float, typer.Option(help="A cell holds while it shows at most this, in cm2.")] = 1e4 * CLEAN_AREA,
          random: Annotated[int, typer.Option(min=0, max=1000, help="This many random poses instead.")] = 0,
          shots: Annotated[Path | None, typer.Option(help="A .glb or .gltf with cameras: what they see is told apart.")] = None,
          in_shots: Annotated[bool, typer.Option("--in-shots", help="A cell holds by what the shots see.")] = False,
          seed: Annotated[int, typer.Option(help="For --random.")] = 1,
          why: Annotated[bool, typer.Option("--why", help="Explain each failing cell and try remedies.")] = False) -> None:
    """Measure a pack on every wearer in every pose. Exit 1 when a cell does not hold."""
    packed = read_pack(read_file(pack), str(pack))
    cast = dict(packed.cast) or {packed.wearer: dict(zip(packed.body.shapes, packed.body.made_at.tolist(), strict=True))}
    cast |= {n: s for n, s in CAST.items() if n not in cast and set(s) <= set(packed.body.shapes)}
    who = _choose(bodies, list(cast) if bodies else list(packed.cast) or list(cast), "--bodies")
    wearers = {w: cast[w] for w in who}
    names = [] if motions and not poses else _choose(poses, list(POSES) if poses else list(DEMO_POSES), "--poses")
    chosen = {p.name: p for p in random_poses(random, seed)} if random else {p: pose_named(p) for p in names}
    cameras = read_shots(read_file(shots), str(shots)) if shots else None
    if in_shots and cameras is None:
        raise InputError(what="there are no shots to hold by", where="--in-shots", todo="Name a file with cameras by --shots.")
    cells: dict[tuple[str, str], tuple[Figures, np.ndarray]] = {}
    rows: list[dict] = []
    for wearer, column, pose, dressed, cell in _measured(packed, wearers, chosen, motions.split(",") if motions else [], cameras):
        f = cell.figures
        f = f.model_copy(update={"holds": ((f.in_shots_cm2 or 0.0) if in_shots else f.area_cm2 + f.holes_cm2) <= limit})
        explained = {"why": _why(dressed, cell, pose, cameras)} if why and not f.holds else {}
        cells[wearer, column] = f, cell_portrait(dressed, cell, (180, 240)) if sheet else np.zeros((1, 1, 3), np.uint8)
        rows.append({"wearer": wearer, "pose": column, **f.model_dump(mode="json", exclude_none=True), **explained})
        shown = column if f.frame is None else f"{column} {f.frame}"
        typer.echo(f"{wearer:12s} {shown:10s} {f.clearance_mm:7.2f} mm {f.area_cm2:8.3f} cm2  "
                   + (f"{f.in_shots_cm2 or 0.0:8.3f} in shots  " if cameras else "")
                   + ("holds" if f.holds else "shows through") + _decided_by(f), err=json == "-")
    found = {"pack": pack.name, "cells": rows, "holds": all(f.holds for f, _ in cells.values())}
    report(json, found)
    if table:
        write_whole(table, trial_csv((w, p, figures) for (w, p), (figures, _) in cells.items()))
    if sheet:
        columns = list(dict.fromkeys(column for _, column in cells))
        write_whole(sheet, write_sheet(", ".join(p.name for p in packed.pieces), who, columns, cells))
    if not found["holds"]:
        raise typer.Exit(1)


def _measured(packed: Pack, wearers: Settings, poses: dict[str, Pose],
              motions: list[str], shots: list[Shot] | None) -> Iterator[tuple[str, str, Pose, Dressed, CellResult]]:
    """Yield `(wearer, column, pose, dressed, cell)`: each pose, then of each motion the worst frame, told in the cell's figures."""
    for wearer, name, dressed, cell in run_trial(packed.body, packed.dressed(), wearers, poses, shots):
        yield wearer, name, poses[name], dressed, cell
    for wearer, settings in wearers.items() if motions else ():
        dressed = Dressed(shaped(packed.body, shape_values(packed.body, settings)), packed.dressed())
        for named in motions:
            motion, _ = motion_named(named.strip(), dressed.wearer.skeleton)
            frame, cell = worst_frame(dressed, motion)
            cell = cell if shots is None else dressed.measure(motion.pose(frame), shots=shots)
            cell = replace(cell, figures=cell.figures.model_copy(update={"frame": frame, "of_frames": len(motion.rotations)}))
            yield wearer, Path(named.strip()).stem, motion.pose(frame), dressed, cell


def _decided_by(figures: Figures) -> str:
    """Return whose clearance decides a cell: which piece over which layer, and where."""
    pair = min(figures.pairs, key=lambda p: p.clearance_mm, default=None)
    if pair is None:
        return ""
    place = pair.places[0].name if pair.places else pair.at
    return f"  {pair.over} over {pair.under}" + (f", {place}" if place and place != pair.under else "")


def _choose(names: str | None, all_names: list[str], where: str) -> list[str]:
    if not names:
        return all_names
    by_slug = {slug(n): n for n in all_names}
    chosen = []
    for name in names.split(","):
        if slug(name) not in by_slug:
            raise InputError(what=f"there is no '{name.strip()}'", where=where, todo=f"There are {', '.join(by_slug)}.")
        chosen.append(by_slug[slug(name)])
    return chosen


def _why(dressed: Dressed, cell: CellResult, pose: Pose, shots: list[Shot] | None) -> list[dict]:
    """Return the causes of what shows in a cell and the remedies that were tried, pair by pair."""
    rows = []
    pieces = dict(zip(dressed.names, dressed.pieces, strict=True))
    for pair in cell.figures.pairs:
        if pair.places:
            case = Case.of(pieces, dressed.wearer.body, dressed.wearer.shape, pose, pair.over, pair.under)
            causes = [{"kind": c.kind, "words": c.words, "left_cm2": round(c.left, 3), "is_cause": c.is_cause} for c in explain(case)]
            tried = sorted(Trying(case, 0.004, [(dressed.wearer.shape, REST)], shots=shots).all(), key=lambda r: r.cost)
            rows.append({"over": pair.over, "under": pair.under, "causes": causes, "remedies": [
                {"kind": r.kind, "words": r.words, "area_cm2": r.area, "move_mm": r.move, "holds": r.holds} for r in tried]})
            cause = "; ".join(c["words"] for c in causes if c["is_cause"]) or "no single cause"
            typer.echo(f"    {pair.over} over {pair.under}: {cause}" + (f" -> {tried[0].words}" if tried else ""), err=True)
    return rows
