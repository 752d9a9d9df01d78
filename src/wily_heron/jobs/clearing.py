"""Planning what clears the sheet: each piece from the skin out gains what is cheapest, computed and measured before it is offered."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import structlog
from psycopg.types.json import Jsonb

from ..core.clearance.cell import CLEAN_AREA, Dressed
from ..core.errors import HeronError, InputError
from ..core.figure.body import shape_values, shaped
from ..core.figure.pose import Pose
from ..core.look.portrait import piece_portrait
from ..core.piece.recipe import Cell, Clear, Hide
from ..formats.png import write_png
from ..store.bodies import body_for
from ..store.db import one, put_blob, run, tell, transaction
from ..store.motions import sheet_motions
from ..store.shots import Kept, shots_in, shots_key, shots_of
from .keys import MOTION, cell_key
from .measuring import measured, pose_of_column
from .plan_rail import Memory, Standing, standing_on, tried
from .queue import app

log = structlog.get_logger()
_EASE = 0.004
_ROUNDS = 2
Waived = dict[tuple[int, str, str], bool]
"""What is left as it is: wearer, pose and the piece it shows through, and whether only while no shot sees it."""


@dataclass(frozen=True)
class _Measured:
    """A cell of the sheet while a plan is made: its figures, and the pose (or the worst frame of its motion) they were measured in."""

    figures: dict[str, Any]
    pose: Pose


Sheet = dict[tuple[int, str], _Measured]
Measure = Callable[[list[Standing], list[dict]], Sheet]


class _Stopped(Exception):
    pass


@app.task(name="plan_sheet")
def plan_sheet(plan: int) -> None:
    """Make a plan; stops when it is cancelled. Safe to run twice: begun again, it goes on from where it was."""
    with transaction() as connection:
        row = one(connection, "plan", plan=plan)
    if row is None or row["state"] != "planning":
        return
    try:
        lines, cells, edits, why = _planned(plan, row["production_id"])
        state = "ready"
    except _Stopped:
        with transaction() as connection:
            run(connection, "drop_plan_work", plan=plan)
        return
    except Exception as error:  # a plan must never be left waiting
        if not isinstance(error, HeronError):
            log.exception("planning failed", plan=plan)
        lines, cells, edits, why, state = [], [], [], str(error)[:300], "failed"
    with transaction() as connection:
        if run(connection, "finish_plan", plan=plan, state=state, lines=Jsonb(lines), cells=Jsonb(cells), why=why):
            run(connection, "set_plan", plan=plan, state=state, edits=Jsonb(edits))
        run(connection, "drop_plan_work", plan=plan)
        tell(connection, "plan", plan=plan)


def _planned(plan: int, production: int) -> tuple[list[dict], list[dict], list[dict], str]:
    with transaction() as connection:
        rows = [r for r in run(connection, "pieces_of", production=production) if r["status"] == "done" and r["geometry_sha"]]
        cast = run(connection, "cast_of", production=production)
        columns = [r["pose"] for r in run(connection, "poses_of", production=production)]
        columns += [MOTION + name for name in sheet_motions(connection, production)]
        waived = {(w["wearer_id"], w["pose"], w["over_piece"]): w["by_shots"] for w in run(connection, "waivers_of", production=production)}
        shots = shots_of(connection, production)
    if not rows:
        raise InputError(what="nothing stands on the rail", where="the plan", todo="Bring in a piece first.")
    lines: list[dict] = []
    cells: list[dict] = []
    edits: list[dict] = []
    memory, total, done = Memory(plan), (_ROUNDS + 1) * len(cast) * len(columns), 0

    def tick() -> None:
        nonlocal done
        done += 1
        with transaction() as connection:
            if not run(connection, "plan_progress", plan=plan, done=min(done, total), total=total):
                raise _Stopped
            tell(connection, "plan", plan=plan)

    def sheet(standing: list[Standing], who: list[dict]) -> Sheet:
        return _sheet(standing, who, columns, shots, memory, tick)

    for body in {w["body_sha"] for w in cast}:
        mine = sorted((r for r in rows if r["recipe"].get("body", "") == (body or "")), key=lambda r: r["rail"])
        standing, who = [standing_on(r) for r in mine], [w for w in cast if w["body_sha"] == body]
        if not standing or not who:
            continue
        before = sheet(standing, who)
        after, made = _cleared(standing, who, before, waived, memory, sheet)
        lines += made
        cells += [_told(key, was, after[key], waived) for key, was in before.items()]
        edits += [_edit(s) for s in standing if s.changed]
    good = all(c["after_cm2"] <= 0.1 for c in cells)
    why = "" if lines else "every cell holds already" if good else "nothing that was tried makes any cell better"
    return lines, cells, edits, why


def _cleared(standing: list[Standing], who: list[dict], after: Sheet, waived: Waived, memory: Memory,
             sheet: Measure) -> tuple[Sheet, list[dict]]:
    """Change `standing` by what clears it; return the sheet as it then is, and the lines of the plan."""
    lines: list[dict] = []
    for _ in range(_ROUNDS):  # once the outer pieces have made room, the inner ones are tried again
        made = [line for i in range(len(standing)) for line in _ease_out(standing, i, who, after, waived, memory)]
        if not made:
            break
        lines += made
        after = sheet(standing, who)
        if all(m.figures["holds"] for m in after.values()):
            break
    for inwards in (_give_way, _hide):  # what costs the pieces nothing
        line = inwards(standing, who, after, waived, memory)
        if line:
            lines.append(line)
            after = sheet(standing, who)
    return after, lines


def _told(key: tuple[int, str], was: _Measured, now: _Measured, waived: Waived) -> dict:
    """What a plan says of a cell: its area before and after, and why it does not hold, if it does not."""
    left, why = [p for p in now.figures["pairs"] if p["area_cm2"] > 0.1], ""
    if not now.figures["holds"]:
        named = ", ".join(f"{p['over']} over {p['under'].lower()}" for p in left)
        why = f"left as it is: {named}" if all(_left(p, *key, waived) for p in left) else _why(left)
    return {"wearer": key[0], "pose": key[1], "before_cm2": was.figures["area_cm2"], "after_cm2": now.figures["area_cm2"],
            "clearance_mm": now.figures["clearance_mm"], "why": why}


def _edit(s: Standing) -> dict:
    thumb = write_png(piece_portrait(s.piece.mesh, (96, 96)))
    with transaction() as connection:
        return {"piece": s.row["id"], "recipe": s.recipe.model_dump(mode="json"), "based_on": s.row["edit_id"], "geometry": s.sha,
                "thumb": put_blob(connection, thumb, "png")}


def _left(pair: dict, wearer: int, pose: str, waived: Waived) -> bool:
    """Whether what shows between a pair in a cell is left as it is; a waiver by the shots holds only while none sees it."""
    by_shots = waived.get((wearer, pose, pair["over"]))
    return by_shots is False or (by_shots is True and (pair.get("in_shots_cm2") or 0.0) <= 1e4 * CLEAN_AREA)


def _why(left: list[dict]) -> str:
    if all(p.get("in_shots_cm2") is not None and p["in_shots_cm2"] <= 1e4 * CLEAN_AREA for p in left):
        return "no shot sees it: open the cell to leave it as it is"
    worst = max((q for p in left for q in p["places"]), key=lambda q: q["depth_mm"], default=None)
    return f"{worst['name']}, {worst['depth_mm']:.1f} mm: open the cell and ask why" if worst else ""


def _sheet(standing: list[Standing], who: list[dict], columns: list[str], shots: Kept, memory: Memory, tick: Callable[[], None]) -> Sheet:
    """Measure every cell that is not known: from before the plan was stopped, or from a sheet."""
    out: Sheet = {}
    pieces = [[s.row["name"], s.worn_sha] for s in standing]
    for w in who:
        dressed: Dressed | None = None
        for column in columns:
            key = cell_key(pieces, w["shape"], column, w["body_sha"], shots_key(shots, w["id"], column))
            figures = memory.known(key)
            if figures is None:
                dressed = dressed or _dressed(standing, w)
                figures = memory.keep(key, measured(dressed, column, shots_in(shots, w["id"], column)).figures)
            out[w["id"], column] = _Measured(figures, pose_of_column(column, figures))
            tick()
    return out


def _dressed(standing: list[Standing], wearer: dict) -> Dressed:
    body = body_for(wearer["body_sha"], wearer["shape"])
    return Dressed(shaped(body, shape_values(body, wearer["shape"])), {s.row["name"]: s.worn for s in standing})


def _failing(i: int, who: list[dict], sheet: Sheet, waived: Waived) -> list[tuple[dict, str, Pose]]:
    """The cells (wearer, column, pose) that do not hold and in which what lies under piece `i` shows, but for those left as they are."""
    wearers = {w["id"]: w for w in who}
    pairs = [(wearers[w], column, m.pose, m.figures["pairs"][i]) for (w, column), m in sheet.items() if not m.figures["holds"]]
    return [(w, c, p) for w, c, p, pair in pairs if pair["area_cm2"] > 0.0 and not _left(pair, w["id"], c, waived)]


def _ease_out(standing: list[Standing], i: int, who: list[dict], sheet: Sheet, waived: Waived, memory: Memory) -> list[dict]:
    """Ease piece `i` out in the cells that call for it; return the line of the plan, if it helps."""
    s = standing[i]
    failing = _failing(i, who, sheet, waived)
    if not failing or s.piece.skin is None:
        return []
    over, outer = tuple(t.worn_sha for t in standing[:i]), tuple(t.worn_sha for t in standing[i + 1 :])
    keep = "pose" if any(p.rotations for *_, p in failing) else "rest"
    step = Clear(cells=tuple(_cell(w, p) for w, _, p in failing), ease=_EASE, keep=keep, over=over, outer=outer)
    made = tried(s, step, standing, memory)
    report = made.piece.report["clear"][-1]["cells"]
    if not any(r["kept"] and r["moved"] for r in report):
        return []
    standing[i] = made
    areas = [(r["before"]["area_cm2"], r["after"]["area_cm2"]) for r in report if "after" in r]
    named = list(dict.fromkeys(p.label.lower() for *_, p in failing))
    words = f"Ease out in {', '.join(named)}" if len(named) < 4 else f"Ease out in {len(named)} poses"
    return [_line(s, words, len(failing), areas, 1000 * max(r["greatest_move"] for r in report))]


def _give_way(standing: list[Standing], who: list[dict], sheet: Sheet, waived: Waived, memory: Memory) -> dict | None:
    """Let the skin give way under the innermost piece where it still shows; return the line of the plan, if that helps."""
    s = standing[0]
    failing = _failing(0, who, sheet, waived)
    if not failing or s.piece.skin is None:
        return None
    outer = tuple(t.worn_sha for t in standing[1:])
    made = tried(s, Clear(cells=tuple(_cell(w, p) for w, _, p in failing), keep="pose", way="skin", outer=outer), standing, memory)
    report = made.piece.report["clear"][-1]["cells"]
    if not any(r["moved"] for r in report):
        return None
    standing[0] = made
    areas = [(r["before"]["area_cm2"], r["after"]["area_cm2"]) for r in report]
    return _line(s, "Let the skin give way under it", len(failing), areas, 1000 * max(r["greatest_move"] for r in report))


def _hide(standing: list[Standing], who: list[dict], sheet: Sheet, waived: Waived, memory: Memory) -> dict | None:
    """Hide skin under the innermost piece where it still shows after all else; return the line of the plan, if that helps."""
    s = standing[0]
    failing = _failing(0, who, sheet, waived)
    if not failing:
        return None
    wearers, fails = {w["id"]: w for w in who}, {(w["id"], column) for w, column, _ in failing}
    every = tuple(_cell(wearers[w], m.pose) for (w, column), m in sheet.items() if (w, column) not in fails)
    made = tried(s, Hide(cells=every, outer=tuple(t.worn_sha for t in standing[1:])), standing, memory)
    if made.piece.hidden is None:
        return None
    areas = []
    for w, column, pose in failing:
        then = _dressed([made, *standing[1:]], w).measure(pose, look_for_holes=True).figures
        now = sheet[w["id"], column].figures
        areas.append((now["area_cm2"], then["area_cm2"] + then["holes_cm2"]))
    if sum(a for _, a in areas) >= sum(b for b, _ in areas) - 0.05:
        return None
    standing[0] = made
    return _line(s, f"Hide {len(made.piece.hidden):,} faces of skin no one can see", len(failing), areas, 0.0)


def _cell(wearer: dict, pose: Pose) -> Cell:
    rotations = {j: tuple(map(float, q)) for j, q in pose.rotations.items()} if pose.family in ("own", "motion") else None
    return Cell.model_validate({"shape": wearer["shape"], "pose": pose.name, "rotations": rotations})


def _line(s: Standing, words: str, cells: int, areas: list[tuple[float, float]], move: float) -> dict:
    return {"piece": s.row["id"], "piece_name": s.row["name"], "words": words, "cells": cells,
            "before_cm2": round(sum(b for b, _ in areas), 3), "after_cm2": round(sum(a for _, a in areas), 3),
            "greatest_move_mm": round(move, 1)}
