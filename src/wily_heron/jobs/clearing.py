"""Planning what clears the sheet: each piece from the skin out gains what is cheapest, computed and measured before it is offered."""

from collections.abc import Callable

import structlog
from psycopg.types.json import Jsonb

from ..core.clearance.cell import CLEAN_AREA
from ..core.errors import HeronError, InputError
from ..core.look.portrait import piece_portrait
from ..core.model.layer_names import SKIN_NAME
from ..core.model.steps.clear import Clear, Hide
from ..formats.png import write_png
from ..store.db import one, put_blob, run, transaction
from ..store.events import notify
from ..store.motions import sheet_motions
from ..store.shots import shots_of
from .keys import MOTION
from .plan_cells import (
    Measure,
    Measured,
    Sheet,
    Waived,
    asked_cell,
    dressed_in,
    failing_under,
    left_alone,
    line_of,
    measure_sheet,
)
from .plan_rail import Memory, Standing, Stopped, standing_on, tried
from .plan_together import EASE, clear_sheet_together
from .queue import app

log = structlog.get_logger()
_TIMES = 4
"""About so often each cell is measured or tried in while a plan is made."""


@app.task(name="plan_sheet")
def plan_sheet(plan: int) -> None:
    """Make a plan; stops when it is cancelled. Safe to run twice: begun again, it goes on from where it was."""
    with transaction() as connection:
        row = one(connection, "plan", plan=plan)
    if row is None or row["state"] != "planning":
        return
    try:
        lines, cells, edits, why = _planned(plan, row["production_id"], row["cell"])
        state = "ready"
    except Stopped:
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
        notify(connection, "plan", plan=plan)


def _planned(plan: int, production: int, only: dict | None) -> tuple[list[dict], list[dict], list[dict], str]:
    with transaction() as connection:
        rows = [r for r in run(connection, "pieces_of", production=production) if r["status"] == "done" and r["geometry_sha"]]
        cast = run(connection, "cast_of", production=production)
        columns = [r["pose"] for r in run(connection, "poses_of", production=production)]
        columns += [MOTION + name for name in sheet_motions(connection, production)]
        waived = {(w["wearer_id"], w["pose"], w["over_piece"]): w["by_shots"] for w in run(connection, "waivers_of", production=production)}
        shots = shots_of(connection, production)
    if not rows:
        raise InputError(what="nothing stands on the rail", where="the plan", todo="Bring in a piece first.")
    if only:
        if only["pose"] not in columns or all(w["id"] != only["wearer"] for w in cast):
            raise InputError(what="that cell is not on the sheet any more", where="the plan", todo="Choose another wearer or pose.")
        columns = [only["pose"]]
    lines: list[dict] = []
    cells: list[dict] = []
    edits: list[dict] = []
    memory, total, done = Memory(plan), _TIMES * len(cast) * len(columns), 0

    def tick() -> None:
        nonlocal done
        done += 1
        with transaction() as connection:
            if not run(connection, "plan_progress", plan=plan, done=min(done, total), total=total):
                raise Stopped
            notify(connection, "plan", plan=plan)

    def measure(standing: list[Standing], who: list[dict], some: list[str] | None = None) -> Sheet:
        return measure_sheet(standing, who, columns if some is None else some, shots, memory, tick)

    for body in {w["body_sha"] for w in cast}:
        mine = [r for r in rows if r["recipe"].get("body", "") == (body or "")]
        standing, who = standing_on(mine), [w for w in cast if w["body_sha"] == body]
        if not standing or not who:
            continue
        if only and all(w["id"] != only["wearer"] for w in who):
            continue
        before = measure(standing, who)
        after, made = _cleared(standing, who, before, {**waived, **_beside(only, who, standing)}, memory, measure, tick)
        lines += made
        cells += [_told(key, was, after[key], waived) for key, was in before.items()]
        edits += [_edit(s) for s in standing if s.changed]
    good = all(c["after_cm2"] <= 0.1 for c in cells)
    why = "" if lines else "every cell holds already" if good else "nothing that was tried makes any cell better"
    return lines, cells, edits, why


def _cleared(standing: list[Standing], who: list[dict], after: Sheet, waived: Waived, memory: Memory,
             measure: Measure, tick: Callable[[], None]) -> tuple[Sheet, list[dict]]:
    """Change `standing` by what clears it; return the sheet as it then is, and the lines of the plan."""
    at_rest = [line for i in range(len(standing)) for line in _ease_out(standing, i, who, after, waived, memory)]
    if at_rest:
        after = measure(standing, who, None)
    after, lines = clear_sheet_together(standing, who, after, waived, memory, measure, tick)
    lines = at_rest + lines
    for i in range(len(standing)):
        line = _hide(standing, i, who, after, waived, memory)
        if line:
            lines.append(line)
            after = measure(standing, who, None)
    return after, lines


def _beside(only: dict | None, who: list[dict], standing: list[Standing]) -> Waived:
    """Return the cells beside the `only` one a plan is for, as left as they are: they are measured, not cleared."""
    if only is None:
        return {}
    return {(w["id"], only["pose"], s.name): False for w in who if w["id"] != only["wearer"] for s in standing}


def _told(key: tuple[int, str], was: Measured, now: Measured, waived: Waived) -> dict:
    """What a plan says of a cell: its area before and after, and why it does not hold, if it does not."""
    left, why = [p for p in now.figures["pairs"] if p["area_cm2"] > 0.1], ""
    if not now.figures["holds"]:
        named = ", ".join(f"{p['over']} over {p['under'].lower()}" for p in left)
        why = f"left as it is: {named}" if all(left_alone(p, *key, waived) for p in left) else _why(left)
    return {"wearer": key[0], "pose": key[1], "before_cm2": was.figures["area_cm2"], "after_cm2": now.figures["area_cm2"],
            "clearance_mm": now.figures["clearance_mm"], "why": why}


def _edit(s: Standing) -> dict:
    thumb = write_png(piece_portrait(s.piece.mesh, (96, 96)))
    with transaction() as connection:
        return {"piece": s.row["id"], "recipe": s.recipe.model_dump(mode="json"), "based_on": s.row["edit_id"], "geometry": s.sha,
                "thumb": put_blob(connection, thumb, "png")}


def _why(left: list[dict]) -> str:
    if all(p.get("in_shots_cm2") is not None and p["in_shots_cm2"] <= 1e4 * CLEAN_AREA for p in left):
        return "no shot sees it: open the cell to leave it as it is"
    worst = max((q for p in left for q in p["places"]), key=lambda q: q["depth_mm"], default=None)
    return f"{worst['name']}, {worst['depth_mm']:.1f} mm: open the cell and ask why" if worst else ""


def _ease_out(standing: list[Standing], i: int, who: list[dict], sheet: Sheet, waived: Waived, memory: Memory) -> list[dict]:
    """Ease piece `i` out for good where it fails at rest; return the line of the plan, if it helps."""
    s = standing[i]
    failing = [(w, c, p) for w, c, p in failing_under(s.name, who, sheet, waived) if not p.rotations]
    if not failing or s.piece.skin is None:
        return []
    over, outer = tuple(t.worn_sha for t in standing[:i]), tuple(t.worn_sha for t in standing[i + 1 :])
    step = Clear(cells=tuple(asked_cell(w, p) for w, _, p in failing), ease=EASE, keep="rest", over=over, outer=outer)
    made = tried(s, step, standing, memory)
    report = made.piece.report["clear"][-1]["cells"]
    if not any(r["kept"] and r["moved"] for r in report):
        return []
    standing[i] = made
    areas = [(r["before"]["area_cm2"], r["after"]["area_cm2"]) for r in report if "after" in r]
    return [line_of(s, "Ease out at rest", len(failing), areas, 1000 * max(r["greatest_move"] for r in report))]


def _hide(standing: list[Standing], i: int, who: list[dict], sheet: Sheet, waived: Waived, memory: Memory) -> dict | None:
    """Hide skin under piece `i` where it still shows through it after all else; return the line of the plan, if that helps."""
    s = standing[i]
    failing = failing_under(s.name, who, sheet, waived, SKIN_NAME)
    if not failing:
        return None
    wearers, fails = {w["id"]: w for w in who}, {(w["id"], column) for w, column, _ in failing}
    every = tuple(asked_cell(wearers[w], m.pose) for (w, column), m in sheet.items() if (w, column) not in fails)
    over, outer = tuple(t.worn_sha for t in standing[:i]), tuple(t.worn_sha for t in standing[i + 1 :])
    made = tried(s, Hide(cells=every, over=over, outer=outer), standing, memory)
    if made.piece.hidden is None:
        return None
    areas = []
    for w, column, pose in failing:
        then = dressed_in([*standing[:i], made, *standing[i + 1 :]], w).measure(pose, look_for_holes=True).figures
        now = sheet[w["id"], column].figures
        areas.append((now["area_cm2"], then["area_cm2"] + then["holes_cm2"]))
    if sum(a for _, a in areas) >= sum(b for b, _ in areas) - 0.05:
        return None
    standing[i] = made
    return line_of(s, f"Hide {len(made.piece.hidden):,} faces of skin no one can see", len(failing), areas, 0.0)


