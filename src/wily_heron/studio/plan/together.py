"""Clearing a sheet cell by cell, the worst first, all pieces of the rail together."""

import hashlib
from collections.abc import Callable, Sequence

import orjson

from ...core.clear.outfit.sheet_together import helps
from ...core.clear.outfit.together import outfit_cleared
from ...core.figure.base.body import shape_values
from ...core.model.state import Piece
from ...core.model.steps.clear import Clear, ClearReport
from ...core.motion.own_poses import pose_for
from ...core.motion.pose import Pose
from ...store.productions.bodies import body_for
from ...store.productions.wearers import CastRow
from ...store.sheet.plans import PlanLine
from .cells import Measure, Sheet, Waived, asked_cell, failing_under, line_of
from .rail import Memory, Planned, tried

EASE = 0.004
_ROUNDS = 2


def clear_sheet_together(rail: list[Planned], who: Sequence[CastRow], after: Sheet, waived: Waived, memory: Memory,
                         measure: Measure, tick: Callable[[], None]) -> tuple[Sheet, list[PlanLine]]:
    """Change `rail` by what clears the sheet; return the sheet as it then is, and the lines of the plan.

    What is made in a cell comes in with its pose: it stays only if the cell shows less, and the same pose no more on any other wearer.
    Then the whole sheet is measured, and what has come to fail by it is cleared too.
    """
    begin = after
    done: dict[int, dict[tuple[int, str], tuple[str, float]]] = {i: {} for i in range(len(rail))}
    for _ in range(_ROUNDS):
        made = False
        seen: set[tuple[int, str]] = set()
        while (ask := _worst(rail, who, after, waived, seen)) is not None:
            wearer, column, pose = ask
            seen.add((wearer.id, column))
            new, moves = _tried_in(rail, wearer, pose, memory)
            tick()
            if not moves:
                continue
            then = measure(new, who, [column])
            was, now = ([sheet[k].figures for k in then] for sheet in (after, then))
            if helps(was, now, list(then).index((wearer.id, column))):
                rail[:], after, made = new, {**after, **then}, True
                for i, move in moves.items():
                    done[i][wearer.id, column] = pose.label, move
        if not made:
            break
        after = measure(rail, who, None)
        if all(m.figures.holds for m in after.values()):
            break
    return after, [_line(s, cells, begin, after) for s, cells in zip(rail, done.values(), strict=True) if cells]


def _worst(rail: Sequence[Planned], who: Sequence[CastRow], sheet: Sheet, waived: Waived,
           seen: set[tuple[int, str]]) -> tuple[CastRow, str, Pose] | None:
    """Return the failing cell in a pose that shows most and has not been asked."""
    cells = {(w.id, c): (w, c, p) for s in rail for w, c, p in failing_under(s.name, who, sheet, waived)
             if p.rotations and (w.id, c) not in seen}
    return cells[max(cells, key=lambda k: sheet[k].figures.area_cm2)] if cells else None


def _tried_in(rail: Sequence[Planned], wearer: CastRow, pose: Pose, memory: Memory) -> tuple[list[Planned], dict[int, float]]:
    """Return the rail cleared in one cell, and how far (metres) each piece that changes moves, by its place."""
    cell, shas = asked_cell(wearer, pose), [s.sha for s in rail]
    key = f"together-{hashlib.sha256(orjson.dumps([shas, cell.model_dump(mode='json')])).hexdigest()}"
    known = memory.known(key)
    if known is None:
        body = body_for(wearer.body, wearer.shape)
        pieces, turned = [s.piece for s in rail], pose_for(cell.pose, cell.rotations)
        cleared = outfit_cleared(pieces, body, shape_values(body, cell.shape), turned, EASE, memory.go_on)
        known = memory.keep(key, {"changed": [i for i, (a, b) in enumerate(zip(pieces, cleared, strict=True)) if a is not b]})
    new = list(rail)
    moves: dict[int, float] = {}
    changed: list[int] = known["changed"]
    for i in changed:
        step = Clear(cells=(cell,), ease=EASE, keep="pose", way="outfit", over=tuple(shas[:i]), outer=tuple(shas[i + 1 :]))
        new[i] = tried(rail[i], step, rail, memory)
        moves[i] = _greatest_move(new[i].piece)
    return new, moves


def _greatest_move(piece: Piece) -> float:
    """Return how far (metres) the last clearing of one cell moved a piece."""
    cleared = piece.report_of(ClearReport)
    return cleared.cells[0].greatest_move if cleared else 0.0


def _line(s: Planned, cells: dict[tuple[int, str], tuple[str, float]], before: Sheet, after: Sheet) -> PlanLine:
    named = list(dict.fromkeys(label.lower() for label, _ in cells.values()))
    words = f"Clear with the outfit in {', '.join(named)}" if len(named) < 4 else f"Clear with the outfit in {len(named)} poses"

    def shown(sheet: Sheet, key: tuple[int, str]) -> float:
        return sum(p.area_cm2 for p in sheet[key].figures.pairs if p.over == s.name)

    areas = [(shown(before, k), shown(after, k)) for k in cells]
    return line_of(s, words, len(cells), areas, 1000 * max(move for _, move in cells.values()))
