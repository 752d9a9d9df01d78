"""Planning what clears the sheet: each piece from the skin out gains what is cheapest, computed and measured before it is offered."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from ...core.clearance.cell import CLEAN_AREA
from ...core.clearance.figures import PairFigures
from ...core.errors import InputError
from ...core.model.layer_names import SKIN_NAME
from ...core.model.steps.clear import Clear, ClearReport, Hide
from ...store.db import put_blob, transaction
from ...store.productions.shots import ShotRow, shots_of
from ...store.productions.wearers import CastRow, cast_of
from ...store.rail.pieces import PieceRow, pieces_of
from ...store.sheet import plans as store
from ...store.sheet.plans import PlanCell, PlanEdit, PlanLine, PlannedFor, PlanRow
from ...store.sheet.waivers import waivers_of
from .. import failures
from ..rail.evaluating import thumb_of
from ..sheet.columns import columns_of
from ..worn import Rail, hangs_for
from .cells import Measure, Measured, Sheet, Waived, asked_cell, dressed_in, failing_under, left_alone, line_of, measure_sheet
from .rail import Memory, Planned, Stopped, as_they_stand, tried
from .together import EASE, clear_sheet_together

_TIMES = 4
"""About so often each cell is measured or tried in while a plan is made."""


@dataclass(frozen=True)
class _Asked:
    """What a plan is made for: the pieces, the cast, the columns of the sheet, what is left as it is, the shots."""

    rail: list[PieceRow]
    cast: list[CastRow]
    columns: list[str]
    waived: dict[tuple[int, str, str], bool]
    shots: list[ShotRow]


@dataclass
class _Made:
    """What a plan has come to."""

    lines: list[PlanLine] = field(default_factory=list[PlanLine])
    cells: list[PlanCell] = field(default_factory=list[PlanCell])
    edits: list[PlanEdit] = field(default_factory=list[PlanEdit])

    @property
    def why(self) -> str:
        """Why there is nothing to do, if there is not."""
        if self.lines:
            return ""
        good = all(c.after_cm2 <= 1e4 * CLEAN_AREA for c in self.cells)
        return "every cell holds already" if good else "nothing that was tried makes any cell better"


def make_plan(plan: int) -> None:
    """Make a plan; stops when it is cancelled. Safe to run twice: begun again, it goes on from where it was."""
    with transaction() as connection:
        row = store.get_plan(connection, plan)
    if row is None or row.state != "planning":
        return
    try:
        made = _planned(row)
    except Stopped:
        with transaction() as connection:
            store.forget_work(connection, plan)
        return
    except Exception as error:  # a plan must never be left waiting
        with transaction() as connection:
            store.finish_plan(connection, plan, "failed", why=failures.explain(error, "planning", plan=plan))
        return
    with transaction() as connection:
        store.finish_plan(connection, plan, "ready", made.lines, made.cells, made.edits, made.why)


def _planned(plan: PlanRow) -> _Made:
    scope = _scope(plan)
    made, memory, total, done = _Made(), Memory(plan.id), _TIMES * len(scope.cast) * len(scope.columns), 0

    def tick() -> None:
        nonlocal done
        done += 1
        with transaction() as connection:
            if not store.go_on(connection, plan.id, min(done, total), total):
                raise Stopped

    def measure(rail: list[Planned], who: Sequence[CastRow], some: Sequence[str] | None = None) -> Sheet:
        return measure_sheet(rail, who, scope.columns if some is None else some, scope.shots, memory, tick)

    for mine in dict.fromkeys(Rail(w.outfit, w.body) for w in scope.cast):
        rail = as_they_stand(r for r in scope.rail if hangs_for(r, mine))
        who = [w for w in scope.cast if Rail(w.outfit, w.body) == mine]
        if not rail or (plan.cell and all(w.id != plan.cell.wearer for w in who)):
            continue
        before = measure(rail, who)
        after, lines = _cleared(rail, who, before, {**scope.waived, **_beside(plan.cell, who, rail)}, memory, measure, tick)
        made.lines += lines
        made.cells += [_plan_cell(key, was, after[key], scope.waived) for key, was in before.items()]
        made.edits += [_edit(s) for s in rail if s.changed]
    return made


def _scope(plan: PlanRow) -> _Asked:
    with transaction() as connection:
        rail = [r for r in pieces_of(connection, plan.production) if r.stands()]
        cast, columns = cast_of(connection, plan.production), columns_of(connection, plan.production)
        waived = {(w.wearer, w.pose, w.over): w.by_shots for w in waivers_of(connection, plan.production)}
        shots = shots_of(connection, plan.production)
    if not rail:
        raise InputError(what="nothing stands on the rail", where="the plan", todo="Bring in a piece first.")
    only = plan.cell
    if only:
        if only.pose not in columns or all(w.id != only.wearer for w in cast):
            raise InputError(what="that cell is not on the sheet any more", where="the plan", todo="Choose another wearer or pose.")
        columns = [only.pose]
    return _Asked(rail, cast, columns, waived, shots)


def _cleared(rail: list[Planned], who: Sequence[CastRow], after: Sheet, waived: Waived, memory: Memory, measure: Measure,
             tick: Callable[[], None]) -> tuple[Sheet, list[PlanLine]]:
    """Change `rail` by what clears it; return the sheet as it then is, and the lines of the plan."""
    at_rest = [line for i in range(len(rail)) for line in _ease_out(rail, i, who, after, waived, memory)]
    if at_rest:
        after = measure(rail, who, None)
    after, lines = clear_sheet_together(rail, who, after, waived, memory, measure, tick)
    lines = at_rest + lines
    for i in range(len(rail)):
        line = _hide(rail, i, who, after, waived, memory)
        if line:
            lines.append(line)
            after = measure(rail, who, None)
    return after, lines


def _beside(only: PlannedFor | None, who: Sequence[CastRow], rail: Sequence[Planned]) -> Waived:
    """Return the cells beside the `only` one a plan is for, as left as they are: they are measured, not cleared."""
    if only is None:
        return {}
    return {(w.id, only.pose, s.name): False for w in who if w.id != only.wearer for s in rail}


def _plan_cell(key: tuple[int, str], was: Measured, now: Measured, waived: Waived) -> PlanCell:
    """What a plan says of a cell: its area before and after, and why it does not hold, if it does not."""
    left, why = [p for p in now.figures.pairs if p.area_cm2 > 1e4 * CLEAN_AREA], ""
    if not now.figures.holds:
        named = ", ".join(f"{p.over} over {p.under.lower()}" for p in left)
        why = f"left as it is: {named}" if all(left_alone(p, *key, waived) for p in left) else _why(left)
    return PlanCell(wearer=key[0], pose=key[1], before_cm2=was.figures.area_cm2, after_cm2=now.figures.area_cm2,
                    clearance_mm=now.figures.clearance_mm, why=why)


def _edit(s: Planned) -> PlanEdit:
    with transaction() as connection:
        thumb = put_blob(connection, thumb_of(s.piece), "png")
    return PlanEdit(piece=s.row.id, recipe=s.recipe, based_on=s.row.edit, geometry=s.sha, thumb=thumb)


def _why(left: Sequence[PairFigures]) -> str:
    if all(p.in_shots_cm2 is not None and p.in_shots_cm2 <= 1e4 * CLEAN_AREA for p in left):
        return "no shot sees it: open the cell to leave it as it is"
    worst = max((q for p in left for q in p.places), key=lambda q: q.depth_mm, default=None)
    return f"{worst.name}, {worst.depth_mm:.1f} mm: open the cell and ask why" if worst else ""


def _ease_out(rail: list[Planned], i: int, who: Sequence[CastRow], sheet: Sheet, waived: Waived, memory: Memory) -> list[PlanLine]:
    """Ease piece `i` out for good where it fails at rest; return the line of the plan, if it helps."""
    s = rail[i]
    failing = [(w, c, p) for w, c, p in failing_under(s.name, who, sheet, waived) if not p.rotations]
    if not failing or s.piece.skin is None:
        return []
    over, outer = tuple(t.worn_sha for t in rail[:i]), tuple(t.worn_sha for t in rail[i + 1 :])
    step = Clear(cells=tuple(asked_cell(w, p) for w, _, p in failing), ease=EASE, keep="rest", over=over, outer=outer)
    made = tried(s, step, rail, memory)
    cleared = made.piece.report_of(ClearReport)
    if cleared is None or not any(c.kept and c.moved for c in cleared.cells):
        return []
    rail[i] = made
    areas = [(c.before.area_cm2, c.after.area_cm2) for c in cleared.cells if c.before and c.after]
    return [line_of(s, "Ease out at rest", len(failing), areas, 1000 * max(c.greatest_move for c in cleared.cells))]


def _hide(rail: list[Planned], i: int, who: Sequence[CastRow], sheet: Sheet, waived: Waived, memory: Memory) -> PlanLine | None:
    """Hide skin under piece `i` where it still shows through it after all else; return the line of the plan, if that helps."""
    s = rail[i]
    failing = failing_under(s.name, who, sheet, waived, SKIN_NAME)
    if not failing:
        return None
    wearers, fails = {w.id: w for w in who}, {(w.id, column) for w, column, _ in failing}
    every = tuple(asked_cell(wearers[w], m.pose) for (w, column), m in sheet.items() if (w, column) not in fails)
    over, outer = tuple(t.worn_sha for t in rail[:i]), tuple(t.worn_sha for t in rail[i + 1 :])
    made = tried(s, Hide(cells=every, over=over, outer=outer), rail, memory)
    if made.piece.hidden is None:
        return None
    areas: list[tuple[float, float]] = []
    for w, column, pose in failing:
        then = dressed_in([*rail[:i], made, *rail[i + 1 :]], w).measure(pose, look_for_holes=True).figures
        areas.append((sheet[w.id, column].figures.area_cm2, then.area_cm2 + then.holes_cm2))
    if sum(a for _, a in areas) >= sum(b for b, _ in areas) - 0.05:
        return None
    rail[i] = made
    return line_of(s, f"Hide {len(made.piece.hidden):,} faces of skin no one can see", len(failing), areas, 0.0)
