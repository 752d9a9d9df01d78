"""The trial sheet: begun, followed, stopped; a job a wearer, so that what can be kept between its cells is kept."""

from collections.abc import Sequence
from dataclasses import dataclass

from ...core.clearance.cell import Dressed
from ...core.errors import InputError
from ...core.look.portrait import cell_portrait
from ...formats.images.png import write_png
from ...store.db import Connection, transaction
from ...store.productions.shots import ShotRow, shots_in, shots_of
from ...store.productions.wearers import cast_of, get_wearer
from ...store.rail.pieces import rail_of
from ...store.sheet import trials as store
from ...store.sheet.trials import BriefRow, CellRow, TrialRow, Worn
from .. import failures, work
from ..desk import Desk
from ..work import Work
from ..worn import dressed, worn_by, worn_then
from .columns import cell_key, columns_of, measured, portions

PICTURE = (180, 240)
"""Width and height of a cell's picture."""


@dataclass(frozen=True)
class Sheet:
    """A run of the sheet with its cells; `stale` holds the keys of those whose piece, wearer or shots have changed since."""

    trial: TrialRow
    cells: list[CellRow]
    stale: frozenset[str]


def begin(desk: Desk) -> Sheet:
    """Measure every wearer in every column; cells known from before are taken over at once. Raises `InputError` where nothing is worn."""
    with transaction() as connection:
        cast, shots = cast_of(connection, desk.production), shots_of(connection, desk.production)
        outfit = worn_by(rail_of(connection, desk.production), cast)
        cast = [w for w in cast if w.name in outfit]
        if not cast:
            raise InputError(what="nothing is worn yet", where="the trial sheet", todo="Bring in a piece first.")
        before = store.latest_trial(connection, desk.production)
        known = store.cells_of(connection, before.id) if before else []
        columns = columns_of(connection, desk.production)
        cells = [(w.id, column, cell_key(outfit[w.name], w, column, shots)) for w in cast for column in columns]
        trial, missing = store.add_trial(connection, desk.production, outfit, cells)
    worst = {(c.wearer, c.pose): c.figures.area_cm2 for c in known if c.figures}
    name_of = {w.id: w.name for w in cast}
    for wearer, some in _worst_first(missing, worst):
        desk.ask(work.measure(trial, wearer, some, outfit[name_of[wearer]], shots))
    return get(trial)


def get(trial: int) -> Sheet:
    """Return a run with its cells. Raises `NotFound` if there is none."""
    with transaction() as connection:
        return _sheet(connection, store.get_trial(connection, trial))


def cells(trial: int, some: Sequence[tuple[int, str]]) -> Sheet:
    """Return a run with those of its cells (wearer, column) alone. Raises `NotFound` if there is no such run."""
    with transaction() as connection:
        found = store.get_trial(connection, trial)
        return _with(connection, found, store.cells_among(connection, trial, some))


def latest(production: int) -> Sheet | None:
    """Return the newest run with its cells, none if nothing has been measured yet."""
    with transaction() as connection:
        found = store.latest_trial(connection, production)
        return _sheet(connection, found) if found else None


def runs(production: int) -> list[BriefRow]:
    """Return the runs of the sheet, newest first, to compare with."""
    with transaction() as connection:
        return store.trials_of(connection, production)


def cancel(trial: int) -> Sheet:
    """Stop a run; what is measured stays."""
    with transaction() as connection:
        store.cancel_trial(connection, trial)
    return get(trial)


def waiting_work() -> list[Work]:
    """Return what a crash left of runs."""
    with transaction() as connection:
        out: list[Work] = []
        for trial in store.running_trials(connection):
            shots = shots_of(connection, trial.production)
            for w in cast_of(connection, trial.production):
                left = store.open_columns(connection, trial.id, w.id)
                if left:
                    out.append(work.measure(trial.id, w.id, left, worn_then(trial.outfit, w.name, w.body), shots))
    return out


def measure_wearer(trial: int, wearer: int, columns: Sequence[str], pieces: Worn, shots: Sequence[ShotRow]) -> None:
    """Measure those of a wearer's cells of a run that are not measured yet, in the order of `columns`, draw and store each.

    Safe to run twice; stops where the run has been cancelled.
    """
    with transaction() as connection:
        left = set(store.open_columns(connection, trial, wearer))
        if not left:
            return
        who = get_wearer(connection, wearer)
    made: Dressed | None = None
    for column in columns:
        if column not in left:
            continue
        with transaction() as connection:
            if not store.is_running(connection, trial):
                return
        try:
            made = made or dressed(who.body, who.shape, pieces)
            cell = measured(made, column, shots_in(shots, wearer, column))
            picture = write_png(cell_portrait(made, cell, PICTURE, alpha=True))
        except Exception as error:  # a sheet must never wait for a cell that cannot be measured
            why = failures.explain(error, "measuring", trial=trial, wearer=wearer, column=column)
            with transaction() as connection:
                store.fail_cell(connection, trial, wearer, column, why)
            continue
        with transaction() as connection:
            store.finish_cell(connection, trial, wearer, column, cell.figures, picture)


def _worst_first(missing: Sequence[tuple[int, str]], worst: dict[tuple[int, str], float]) -> list[tuple[int, list[str]]]:
    """Return the cells to measure by wearer, each in a few jobs; what showed most in the run before comes first."""
    mine: dict[int, list[str]] = {}
    for wearer, column in sorted(missing, key=lambda cell: -worst.get(cell, 0.0)):
        mine.setdefault(wearer, []).append(column)
    return [(wearer, part) for wearer, columns in mine.items() for part in portions(columns, len(mine))]


def _sheet(connection: Connection, trial: TrialRow) -> Sheet:
    return _with(connection, trial, store.cells_of(connection, trial.id))


def _with(connection: Connection, trial: TrialRow, cells: list[CellRow]) -> Sheet:
    shots = shots_of(connection, trial.production)
    cast = {w.id: w for w in cast_of(connection, trial.production)}
    outfit = worn_by(rail_of(connection, trial.production), cast.values())
    now = {(c.wearer, c.pose): cell_key(outfit.get(cast[c.wearer].name, []), cast[c.wearer], c.pose, shots) for c in cells}
    return Sheet(trial, cells, frozenset(c.key for c in cells if c.key != now[c.wearer, c.pose]))
