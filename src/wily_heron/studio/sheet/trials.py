"""The trial sheet: begun, followed, stopped; a job a wearer, so that what can be kept between its cells is kept."""

from collections.abc import Sequence
from dataclasses import dataclass

from ...core.clearance.cell import Dressed
from ...core.errors import InputError
from ...core.look.portrait import cell_portrait
from ...formats.images.png import write_png
from ...store.db import Connection, transaction
from ...store.jobs import urgent_waits
from ...store.productions.settings import settings_of
from ...store.productions.shots import ShotRow, shots_in, shots_of
from ...store.productions.wearers import cast_of, get_wearer
from ...store.rail.pieces import rail_of
from ...store.sheet import trials as store
from ...store.sheet.trials import BriefRow, CellRow, NewCell, TrialRow, Worn
from .. import failures, work
from ..desk import Desk
from ..work import Ask, Work
from ..worn import dressed, worn_by, worn_then
from .columns import cell_key, columns_of, measured, portions
from .judging import judged

PICTURE = (180, 240)
"""Width and height of a cell's picture."""


@dataclass(frozen=True)
class Sheet:
    """A run of the sheet with its cells; `stale` holds the keys of those whose piece, wearer or shots have changed since."""

    trial: TrialRow
    cells: list[CellRow]
    stale: frozenset[str]


@dataclass(frozen=True)
class Choice:
    """What a run of the sheet is to hold: rows (wearers) and columns, all where None; one outfit on everybody, or what each has on."""

    wearers: frozenset[int] | None = None
    columns: frozenset[str] | None = None
    outfit: int | None = None
    automatic: bool = False

    def wants(self, wearer: int, column: str) -> bool:
        """Return whether a cell is chosen."""
        return (self.wearers is None or wearer in self.wearers) and (self.columns is None or column in self.columns)


def begin(desk: Desk, choice: Choice = Choice()) -> Sheet:
    """Measure the chosen cells; those known from before are taken over at once, chosen or not. Raises `InputError` where nothing is worn
    or chosen."""
    with transaction() as connection:
        cast, shots = cast_of(connection, desk.production), shots_of(connection, desk.production)
        outfit = worn_by(rail_of(connection, desk.production), cast, choice.outfit)
        cast = [w for w in cast if w.name in outfit]
        if not cast:
            raise InputError(what="nothing is worn yet", where="the trial sheet", todo="Bring in a piece first.")
        before = store.latest_trial(connection, desk.production)
        known = store.cells_of(connection, before.id) if before else []
        columns = columns_of(connection, desk.production)
        cells = [NewCell(w.id, column, cell_key(outfit[w.name], w, column, shots), choice.wants(w.id, column))
                 for w in cast for column in columns]
        if not any(cell.wanted for cell in cells):
            raise InputError(what="no cell is chosen", where="the trial sheet", todo="Choose a wearer who has something on, and a pose.")
        trial, missing = store.add_trial(connection, desk.production, outfit, cells, automatic=choice.automatic,
                                         whole=choice.wearers is None and choice.columns is None, of_outfit=choice.outfit)
    worst = {(c.wearer, c.pose): c.figures.area_cm2 for c in known if c.figures}
    name_of = {w.id: w.name for w in cast}
    for wearer, some in _worst_first(missing, worst):
        desk.ask(work.measure(trial, wearer, some, outfit[name_of[wearer]], shots, choice.automatic))
    return get(trial)


def again(desk: Desk) -> Sheet | None:
    """Measure the newest run of the sheet anew where what it measured has changed since; return the run that was begun, if one was.

    One that an artist stopped stays stopped, and a production may have this turned off. While a piece is being worked out nothing is
    begun: what is worn is not known yet.
    """
    with transaction() as connection:
        last = store.latest_trial(connection, desk.production)
        rail = rail_of(connection, desk.production)
        wanted = last is not None and last.state != "cancelled" and settings_of(connection, desk.production).measure_again
        if last is None or not wanted or any(piece.status == "waiting" for piece in rail):
            return None
        cells, cast = store.cells_of(connection, last.id), cast_of(connection, desk.production)
        worn, columns = worn_by(rail, cast, last.of_outfit), columns_of(connection, desk.production)
        now = _keys(connection, last, cells)
    there = {(c.wearer, c.pose) for c in cells}
    wearers, some = frozenset(w for w, _ in there), frozenset(c for _, c in there)
    asked = {(w.id, column) for w in cast if w.name in worn for column in columns if last.whole or (w.id in wearers and column in some)}
    if not asked or (asked == there and all(c.key == now[c.wearer, c.pose] for c in cells)):
        return None
    return begin(desk, Choice(None if last.whole else wearers, None if last.whole else some, last.of_outfit, automatic=True))


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
        return store.trials_of(connection, production, settings_of(connection, production).holds_cm2)


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
                    worn = worn_then(trial.outfit, w.name, w.body)
                    out.append(work.measure(trial.id, w.id, left, worn, shots, trial.automatic))
    return out


def measure_wearer(trial: int, wearer: int, columns: Sequence[str], pieces: Worn, shots: Sequence[ShotRow], ask: Ask) -> None:
    """Measure those of a wearer's cells of a run that are not measured yet, in the order of `columns`, draw and store each.

    Safe to run twice; stops where the run has been cancelled, and makes way for a job that an artist waits for: what is left is asked for
    again.
    """
    with transaction() as connection:
        left = store.open_columns(connection, trial, wearer)
        if not left:
            return
        who, automatic = get_wearer(connection, wearer), store.get_trial(connection, trial).automatic
    made: Dressed | None = None
    due = [column for column in columns if column in left]
    for place, column in enumerate(due):
        with transaction() as connection:
            if not store.is_running(connection, trial):
                return
            if urgent_waits(connection):
                ask(work.measure(trial, wearer, due[place:], pieces, shots, automatic))
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
    """Return a run with some of its cells: one that is still to be measured as it was in the run before, which is stale."""
    if trial.state == "running":
        before = {(c.wearer, c.pose): c for c in store.cells_before(connection, trial.id)}
        cells = [before.get((c.wearer, c.pose), c) for c in cells]
    now, settled = _keys(connection, trial, cells), settings_of(connection, trial.production)
    cells = [c.model_copy(update={"figures": judged(c.figures, settled)}) if c.figures else c for c in cells]
    return Sheet(trial, cells, frozenset(c.key for c in cells if c.key != now[c.wearer, c.pose]))


def _keys(connection: Connection, trial: TrialRow, cells: Sequence[CellRow]) -> dict[tuple[int, str], str]:
    """Return for each cell of a run the key that it would be measured under now."""
    shots = shots_of(connection, trial.production)
    cast = {w.id: w for w in cast_of(connection, trial.production)}
    outfit = worn_by(rail_of(connection, trial.production), cast.values(), trial.of_outfit)
    return {(c.wearer, c.pose): cell_key(outfit.get(cast[c.wearer].name, []), cast[c.wearer], c.pose, shots) for c in cells}
