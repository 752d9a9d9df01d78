"""The cells of a sheet while a plan is made for it: what they show, which of them fail, and how a plan tells of them."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from ...core.clearance.cell import CLEAN_AREA, Dressed
from ...core.clearance.figures import Figures, PairFigures
from ...core.figure.base.body import shape_values, shaped
from ...core.model.steps.alteration import Cell
from ...core.motion.pose import Pose
from ...store.productions.bodies import body_for
from ...store.productions.shots import ShotRow, shots_in
from ...store.productions.wearers import CastRow
from ...store.sheet.plans import PlanLine
from ...store.sheet.trials import figures_json
from ..sheet.columns import cell_key, measured, pose_of_cell
from .rail import Memory, Planned

Waived = Mapping[tuple[int, str, str], bool]
"""What is left as it is: wearer, pose and the piece it shows through, and whether only while no shot sees it."""


@dataclass(frozen=True)
class Measured:
    """A cell of the sheet while a plan is made: its figures, and the pose (or the worst frame of its motion) they were measured in."""

    figures: Figures
    pose: Pose


Sheet = dict[tuple[int, str], Measured]
Measure = Callable[[list[Planned], Sequence[CastRow], Sequence[str] | None], Sheet]
"""Measures a rail on wearers in some columns of the sheet, or all."""


def measure_sheet(rail: Sequence[Planned], who: Sequence[CastRow], columns: Sequence[str], shots: Sequence[ShotRow], memory: Memory,
                  tick: Callable[[], None]) -> Sheet:
    """Measure every cell that is not known: from before the plan was stopped, or from a sheet."""
    out: Sheet = {}
    pieces = [(s.name, s.worn_sha) for s in rail]
    for w in who:
        dressed: Dressed | None = None
        for column in columns:
            key = cell_key(pieces, w, column, shots)
            known = memory.known(key)
            if known is None:
                dressed = dressed or dressed_in(rail, w)
                figures = measured(dressed, column, shots_in(shots, w.id, column)).figures
                memory.keep(key, figures_json(figures))
            else:
                figures = Figures.model_validate(known)
            out[w.id, column] = Measured(figures, pose_of_cell(column, figures))
            tick()
    return out


def dressed_in(rail: Sequence[Planned], wearer: CastRow) -> Dressed:
    """Return a wearer of the cast with the rail on."""
    body = body_for(wearer.body, wearer.shape)
    return Dressed(shaped(body, shape_values(body, wearer.shape)), {s.name: s.worn for s in rail})


def failing_under(piece: str, who: Sequence[CastRow], sheet: Sheet, waived: Waived,
                  under: str | None = None) -> list[tuple[CastRow, str, Pose]]:
    """The cells (wearer, column, pose) that do not hold and in which what lies under a piece shows through it, whatever it is or the layer
    named `under` alone, but for those left as they are."""
    wearers = {w.id: w for w in who}
    found: list[tuple[CastRow, str, Pose]] = []
    for (w, column), m in sheet.items():
        shown = [p for p in m.figures.pairs if p.over == piece and p.area_cm2 > 0.0 and under in (None, p.under)]
        if not m.figures.holds and any(not left_alone(p, w, column, waived) for p in shown):
            found.append((wearers[w], column, m.pose))
    return found


def left_alone(pair: PairFigures, wearer: int, pose: str, waived: Waived) -> bool:
    """Whether what shows between a pair in a cell is left as it is; a waiver by the shots holds only while none sees it."""
    by_shots = waived.get((wearer, pose, pair.over))
    return by_shots is False or (by_shots is True and (pair.in_shots_cm2 or 0.0) <= 1e4 * CLEAN_AREA)


def asked_cell(wearer: CastRow, pose: Pose) -> Cell:
    """Return a cell as an alteration names it."""
    rotations = {j: tuple(map(float, q)) for j, q in pose.rotations.items()} if pose.family in ("own", "motion") else None
    return Cell.model_validate({"shape": wearer.shape, "pose": pose.name, "rotations": rotations})


def line_of(s: Planned, words: str, cells: int, areas: Sequence[tuple[float, float]], move: float) -> PlanLine:
    """Return a line of a plan: what is done to a piece, in how many cells, its areas there (cm2) and its greatest move (mm)."""
    return PlanLine(piece=s.row.id, piece_name=s.row.name, words=words, cells=cells, before_cm2=round(sum(b for b, _ in areas), 3),
                    after_cm2=round(sum(a for _, a in areas), 3), greatest_move_mm=round(move, 1))
