"""Planning what clears the sheet: each piece from the skin out gains what is cheapest, computed and measured before it is offered."""

from dataclasses import dataclass
from typing import Any

import structlog
from psycopg.types.json import Jsonb

from ..core.clearance.cell import CLEAN_AREA, Dressed
from ..core.clearance.trial import worst_frame
from ..core.errors import HeronError, InputError
from ..core.figure.body import shape_values, shaped
from ..core.figure.motion import Motion
from ..core.figure.pose import Pose
from ..core.look.portrait import piece_portrait
from ..core.piece.evaluate import Source, evaluate
from ..core.piece.recipe import Cell, Clear, Hide, Recipe
from ..core.piece.state import Piece
from ..formats.png import write_png
from ..store.arrays import bytes_piece, piece_bytes
from ..store.bodies import body_for, carrier_of
from ..store.db import get_blob, one, put_blob, run, tell, transaction
from ..store.models import get_model, texture_addresses
from ..store.motions import motion_of, sheet_motions
from ..store.pieces import piece_at
from ..store.poses import pose_of
from ..store.shots import Kept, shots_in, shots_of
from .keys import MOTION
from .queue import app

log = structlog.get_logger()
_EASE = 0.004
_ROUNDS = 2
Waived = dict[tuple[int, str, str], bool]
"""What is left as it is: wearer, pose and the piece it shows through, and whether only while no shot sees it."""


@dataclass
class _Standing:
    """A piece of the rail while a plan is made: its row, recipe and shape as planned so far, and the address of that."""

    row: dict[str, Any]
    recipe: Recipe
    piece: Piece
    sha: str
    changed: bool = False


@dataclass(frozen=True)
class _Measured:
    """A cell of the sheet while a plan is made: its figures, and the pose (or the worst frame of its motion) they were measured in."""

    figures: dict[str, Any]
    pose: Pose


Columns = dict[str, Pose | Motion]
Sheet = dict[tuple[int, str], _Measured]


class _Stopped(Exception):
    pass


@app.task(name="plan_sheet")
def plan_sheet(plan: int) -> None:
    """Make a plan; stops when it is cancelled. Safe to run twice."""
    with transaction() as connection:
        row = one(connection, "plan", plan=plan)
    if row is None or row["state"] != "planning":
        return
    try:
        lines, cells, edits, why = _planned(plan, row["production_id"])
        state = "ready"
    except _Stopped:
        return
    except Exception as error:  # a plan must never be left waiting
        if not isinstance(error, HeronError):
            log.exception("planning failed", plan=plan)
        lines, cells, edits, why, state = [], [], [], str(error)[:300], "failed"
    with transaction() as connection:
        if run(connection, "finish_plan", plan=plan, state=state, lines=Jsonb(lines), cells=Jsonb(cells), why=why):
            run(connection, "set_plan", plan=plan, state=state, edits=Jsonb(edits))
        tell(connection, "plan", plan=plan)


def _planned(plan: int, production: int) -> tuple[list[dict], list[dict], list[dict], str]:
    with transaction() as connection:
        rows = [r for r in run(connection, "pieces_of", production=production) if r["status"] == "done" and r["geometry_sha"]]
        cast = run(connection, "cast_of", production=production)
        columns: Columns = {r["pose"]: pose_of(connection, r["pose"]) for r in run(connection, "poses_of", production=production)}
        columns |= {MOTION + name: motion_of(connection, name) for name in sheet_motions(connection, production)}
        waived = {(w["wearer_id"], w["pose"], w["over_piece"]): w["by_shots"] for w in run(connection, "waivers_of", production=production)}
        shots = shots_of(connection, production)
        held = {r["geometry_sha"]: get_blob(connection, r["geometry_sha"]) for r in rows}
    if not rows:
        raise InputError(what="nothing stands on the rail", where="the plan", todo="Bring in a piece first.")
    lines: list[dict] = []
    cells: list[dict] = []
    edits: list[dict] = []
    bodies = {w["body_sha"] for w in cast}
    total = (_ROUNDS + 1) * len(cast) * len(columns)
    done = 0

    def tick(by: int = 1) -> None:
        nonlocal done
        done += by
        with transaction() as connection:
            if not run(connection, "plan_progress", plan=plan, done=min(done, total), total=total):
                raise _Stopped
            tell(connection, "plan", plan=plan)

    for body in bodies:
        mine = sorted((r for r in rows if r["recipe"].get("body", "") == (body or "")), key=lambda r: r["rail"])
        standing = [_Standing(r, Recipe.model_validate(r["recipe"]), bytes_piece(held[r["geometry_sha"]]), r["geometry_sha"]) for r in mine]
        who = [w for w in cast if w["body_sha"] == body]
        if not standing or not who:
            continue
        before = after = _sheet(standing, who, columns, shots, tick)
        for _ in range(_ROUNDS):  # once the outer pieces have made room, the inner ones are tried again
            made = [line for i in range(len(standing)) for line in _ease_out(standing, i, who, after, waived)]
            if not made:
                break
            lines += made
            after = _sheet(standing, who, columns, shots, tick)
            if all(m.figures["holds"] for m in after.values()):
                break
        for inwards in (_give_way, _hide):  # what costs the pieces nothing
            line = inwards(standing, who, after, waived)
            if line:
                lines.append(line)
                after = _sheet(standing, who, columns, shots, tick)
        for key, was in before.items():
            a, b = after[key].figures, was.figures
            left = [p for p in a["pairs"] if p["area_cm2"] > 0.1]
            why = ""
            if not a["holds"]:
                why = (
                    "left as it is: " + ", ".join(f"{p['over']} over {p['under'].lower()}" for p in left)
                    if all(_left(p, *key, waived) for p in left)
                    else _why(left)
                )
            cells.append(
                {
                    "wearer": key[0],
                    "pose": key[1],
                    "before_cm2": b["area_cm2"],
                    "after_cm2": a["area_cm2"],
                    "clearance_mm": a["clearance_mm"],
                    "why": why,
                }
            )
        for s in standing:
            if s.changed:
                thumb = write_png(piece_portrait(s.piece.mesh, (96, 96)))
                with transaction() as connection:
                    edits.append(
                        {
                            "piece": s.row["id"],
                            "recipe": s.recipe.model_dump(mode="json"),
                            "based_on": s.row["edit_id"],
                            "geometry": s.sha,
                            "thumb": put_blob(connection, thumb, "png"),
                        }
                    )
    good = all(c["after_cm2"] <= 0.1 for c in cells)
    why = "" if lines else "every cell holds already" if good else "nothing that was tried makes any cell better"
    return lines, cells, edits, why


def _left(pair: dict, wearer: int, pose: str, waived: Waived) -> bool:
    """Whether what shows between a pair in a cell is left as it is; a waiver by the shots holds only while none sees it."""
    by_shots = waived.get((wearer, pose, pair["over"]))
    return by_shots is False or (by_shots is True and (pair.get("in_shots_cm2") or 0.0) <= 1e4 * CLEAN_AREA)


def _why(left: list[dict]) -> str:
    if all(p.get("in_shots_cm2") is not None and p["in_shots_cm2"] <= 1e4 * CLEAN_AREA for p in left):
        return "no shot sees it: open the cell to leave it as it is"
    worst = max((q for p in left for q in p["places"]), key=lambda q: q["depth_mm"], default=None)
    return f"{worst['name']}, {worst['depth_mm']:.1f} mm: open the cell and ask why" if worst else ""


def _sheet(standing: list[_Standing], who: list[dict], columns: Columns, shots: Kept, tick) -> Sheet:
    out: Sheet = {}
    for w in who:
        body = body_for(w["body_sha"], w["shape"])
        dressed = Dressed(shaped(body, shape_values(body, w["shape"])), {s.row["name"]: s.piece for s in standing})
        for column, held in columns.items():
            pose = held if isinstance(held, Pose) else held.pose(worst_frame(dressed, held)[0])
            cell = dressed.measure(pose, look_for_holes=True, shots=shots_in(shots, w["id"], column))
            out[w["id"], column] = _Measured(cell.figures, pose)
            tick()
    return out


def _failing(i: int, who: list[dict], sheet: Sheet, waived: Waived) -> list[tuple[dict, str, Pose]]:
    """The cells (wearer, column, pose) in which what lies under piece `i` shows, but for those that are left as they are."""
    wearers = {w["id"]: w for w in who}
    pairs = [(wearers[w], column, m.pose, m.figures["pairs"][i]) for (w, column), m in sheet.items()]
    return [(w, c, p) for w, c, p, pair in pairs if pair["area_cm2"] > 0.0 and not _left(pair, w["id"], c, waived)]


def _ease_out(standing: list[_Standing], i: int, who: list[dict], sheet: Sheet, waived: Waived) -> list[dict]:
    """Ease piece `i` out in the cells that call for it; return the line of the plan, if it helps."""
    s = standing[i]
    failing = _failing(i, who, sheet, waived)
    if not failing or s.piece.skin is None:
        return []
    over, outer = tuple(t.sha for t in standing[:i]), tuple(t.sha for t in standing[i + 1 :])
    keep = "pose" if any(p.rotations for *_, p in failing) else "rest"
    step = Clear(cells=tuple(_cell(w, p) for w, _, p in failing), ease=_EASE, keep=keep, over=over, outer=outer)
    made = _evaluated(s, step, standing)
    report = made.report["clear"][-1]["cells"]
    if not any(r["kept"] and r["moved"] for r in report):
        return []
    _stand(s, made, step)
    areas = [(r["before"]["area_cm2"], r["after"]["area_cm2"]) for r in report if "after" in r]
    named = list(dict.fromkeys(p.label.lower() for *_, p in failing))
    words = f"Ease out in {', '.join(named)}" if len(named) < 4 else f"Ease out in {len(named)} poses"
    return [_line(s, words, len(failing), areas, 1000 * max(r["greatest_move"] for r in report))]


def _give_way(standing: list[_Standing], who: list[dict], sheet: Sheet, waived: Waived) -> dict | None:
    """Let the skin give way under the innermost piece where it still shows; return the line of the plan, if that helps."""
    s = standing[0]
    failing = _failing(0, who, sheet, waived)
    if not failing or s.piece.skin is None:
        return None
    step = Clear(cells=tuple(_cell(w, p) for w, _, p in failing), keep="pose", way="skin", outer=tuple(t.sha for t in standing[1:]))
    made = _evaluated(s, step, standing)
    report = made.report["clear"][-1]["cells"]
    if not any(r["moved"] for r in report):
        return None
    _stand(s, made, step)
    areas = [(r["before"]["area_cm2"], r["after"]["area_cm2"]) for r in report]
    return _line(s, "Let the skin give way under it", len(failing), areas, 1000 * max(r["greatest_move"] for r in report))


def _hide(standing: list[_Standing], who: list[dict], sheet: Sheet, waived: Waived) -> dict | None:
    """Hide skin under the innermost piece where it still shows after all else; return the line of the plan, if that helps."""
    s = standing[0]
    failing = _failing(0, who, sheet, waived)
    if not failing:
        return None
    wearers, fails = {w["id"]: w for w in who}, {(w["id"], column) for w, column, _ in failing}
    every = tuple(_cell(wearers[w], m.pose) for (w, column), m in sheet.items() if (w, column) not in fails)
    step = Hide(cells=every, outer=tuple(t.sha for t in standing[1:]))
    made = _evaluated(s, step, standing)
    if made.hidden is None:
        return None
    was, areas = s.piece, []
    for w, column, pose in failing:
        body = body_for(w["body_sha"], w["shape"])
        worn = {t.row["name"]: t.piece for t in standing} | {s.row["name"]: made}
        then = Dressed(shaped(body, shape_values(body, w["shape"])), worn).measure(pose, look_for_holes=True).figures
        now = sheet[w["id"], column].figures
        areas.append((now["area_cm2"], then["area_cm2"] + then["holes_cm2"]))
    if sum(a for _, a in areas) >= sum(b for b, _ in areas) - 0.05:
        s.piece = was
        return None
    _stand(s, made, step)
    return _line(s, f"Hide {len(made.hidden):,} faces of skin no one can see", len(failing), areas, 0.0)


def _cell(wearer: dict, pose: Pose) -> Cell:
    rotations = {j: tuple(map(float, q)) for j, q in pose.rotations.items()} if pose.family in ("own", "motion") else None
    return Cell.model_validate({"shape": wearer["shape"], "pose": pose.name, "rotations": rotations})


def _evaluated(s: _Standing, step: Clear | Hide, standing: list[_Standing]) -> Piece:
    with transaction() as connection:
        model = get_model(connection, s.row["source_sha"])
    recipe = s.recipe.model_copy(update={"steps": (*s.recipe.steps, step)})
    here = {t.sha: t.piece for t in standing}

    def layer_of(sha: str) -> Piece:
        return here[sha] if sha in here else piece_at(sha)

    return evaluate(Source(model, s.row["source_sha"]), recipe, body_for(recipe.body, recipe.made_on), carrier_of, layer_of)


def _stand(s: _Standing, piece: Piece, step: Clear | Hide) -> None:
    with transaction() as connection:
        s.sha = put_blob(connection, piece_bytes(piece, texture_addresses(connection, s.row["source_sha"])), "piece")
    s.piece, s.changed = piece, True
    s.recipe = s.recipe.model_copy(update={"steps": (*s.recipe.steps, step)})


def _line(s: _Standing, words: str, cells: int, areas: list[tuple[float, float]], move: float) -> dict:
    return {
        "piece": s.row["id"],
        "piece_name": s.row["name"],
        "words": words,
        "cells": cells,
        "before_cm2": round(sum(b for b, _ in areas), 3),
        "after_cm2": round(sum(a for _, a in areas), 3),
        "greatest_move_mm": round(move, 1),
    }
