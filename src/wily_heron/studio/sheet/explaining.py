"""What failing cells come from, and what would help: of the cell on the stage as it is found, of a run's cells as jobs."""

from collections.abc import Callable, Iterator

from ...core.clearance.cell import CLEAN_AREA
from ...core.errors import HeronError, InputError
from ...core.explain.explain import Cause, Refit, explain, main_causes
from ...core.explain.failing_pair import Case
from ...core.explain.remedies import Remedy, Trying
from ...core.figure.base.body import shape_values
from ...core.figure.base.pose_types import REST, Pose
from ...store.db import transaction
from ...store.productions.bodies import body_for, carrier_of
from ...store.productions.poses import axis_poses
from ...store.productions.shots import shots_in, shots_of
from ...store.productions.wearers import cast_of, get_wearer
from ...store.rail.pieces import piece_at, pieces_of
from ...store.sheet import trials as store
from ...store.sheet.trials import Cause as KeptCause
from ...store.sheet.trials import CellRow, Worn
from .. import failures, work
from ..desk import Desk
from ..rail.origins import refit_of
from ..stage_cell import StageCell
from ..wearer import rail_for
from ..worn import worn, worn_then
from .columns import pose_of_cell
from .trials import Sheet, get

_POSES_BESIDE, _WEARERS_BESIDE = 2, 1
"""Cells beside the one in question that a remedy must not spoil: more are tried by a plan of the whole sheet."""


class Explaining:
    """One pair of layers in the cell on the stage, explained step by step."""

    def __init__(self, production: int, cell: StageCell, over: str, under: str | None, wearer: int | None, ease: float) -> None:
        """Load what is in question. Raises `InputError` for a piece that is not worn there."""
        body = cell.on()
        shape, pose = shape_values(body, cell.shape), cell.stance()
        with transaction() as connection:
            rail, poses = pieces_of(connection, production), axis_poses(connection, production)
            mine = rail_for(connection, production, cell.model_copy(update={"wearer": wearer}))
            others = [w for w in cast_of(connection, production) if w.body == cell.body and w.outfit == mine.outfit and w.id != wearer]
            shots = shots_in(shots_of(connection, production), wearer, cell.pose)
        rows = worn(rail, mine, unfinished=True)
        pieces = {name: piece_at(sha) for name, sha in rows}
        if over not in pieces:
            raise InputError(what=f"{over} is not worn here", where="explaining", todo="Choose a piece of this wearer's rail.")
        self._case = Case.of(pieces, body, shape, pose, over, under)
        self._refit = refit_of(next(piece for piece in rail if piece.geometry == dict(rows)[over]))
        near = [(shape, REST), *((shape, p) for p in poses if p.name != pose.name)][:_POSES_BESIDE]
        beside = [(shape_values(body, w.shape), pose) for w in others][:_WEARERS_BESIDE]
        self._trying = Trying(self._case, ease, [*near, *beside], carrier_of(cell.body or "", cell.shape), shots)

    def steps(self) -> Iterator[Cause | Remedy | str]:
        """Yield each cause and each remedy as it is found, and in words what is being tried; what goes wrong ends it, told."""
        try:
            yield "Undoing one factor at a time"
            yield from explain(self._case, self._refit)
            yield "Trying remedies"
            yield from self._trying.all()
        except HeronError as error:
            yield str(error)


def explain_all(desk: Desk, trial: int) -> Sheet:
    """Ask for the cause of every failing cell of a run; they come in one by one."""
    made = get(trial)
    failing = {c.wearer for c in made.cells if c.figures and not c.figures.holds and c.causes is None}
    with transaction() as connection:
        cast = [w for w in cast_of(connection, desk.production) if w.id in failing]
    for w in cast:
        desk.ask(work.explain(trial, w.id, worn_then(made.trial.outfit, w.name, w.body)))
    return made


def explain_wearer(trial: int, wearer: int, pieces: Worn) -> None:
    """Store the causes of each failing cell of a wearer that has none yet, worst first. Safe to run twice."""
    with transaction() as connection:
        cells = store.unexplained(connection, trial, wearer)
        if not cells:
            return
        who = get_wearer(connection, wearer)
        rail = pieces_of(connection, who.production)
    refits = {sha: refit_of(piece) for _, sha in pieces for piece in rail if piece.worn == sha}
    body = body_for(who.body, who.shape)
    on, shape = {name: piece_at(sha) for name, sha in pieces}, shape_values(body, who.shape)

    def case_of(over: str, under: str, pose: Pose) -> Case:
        return Case.of(on, body, shape, pose, over, under)

    for cell in cells:
        causes = list(_causes(cell, case_of, {name: refits.get(sha) for name, sha in pieces}))
        with transaction() as connection:
            store.keep_causes(connection, trial, wearer, cell.pose, causes)


def _causes(cell: CellRow, case_of: Callable[[str, str, Pose], Case], refits: dict[str, Refit | None]) -> Iterator[KeptCause]:
    """Yield what each pair of a cell that shows comes from."""
    assert cell.figures is not None
    for pair in cell.figures.pairs:
        if pair.area_cm2 <= 1e4 * CLEAN_AREA:
            continue
        try:
            found = main_causes(case_of(pair.over, pair.under, pose_of_cell(cell.pose, cell.figures)), refits.get(pair.over))
        except Exception as error:  # one cell that cannot be explained must not keep the others waiting
            failures.explain(error, "explaining", wearer=cell.wearer, pose=cell.pose)
            continue
        yield from (KeptCause(over=pair.over, under=pair.under, kind=c.kind, words=c.words) for c in found)
