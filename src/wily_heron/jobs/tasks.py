"""What workers do: each job hands on to the studio. All are safe to run twice."""

import structlog

from ..store.productions.shots import ShotRow
from ..store.rail.wear import WaitingRow
from ..store.sheet.trials import Worn
from ..studio import dressings
from ..studio.apart import taking
from ..studio.desk import Desk
from ..studio.plan import carrying_out, planning
from ..studio.rail import baking, dressing, evaluating, wearing
from ..studio.rail import outfit as outfits
from ..studio.sheet import explaining, hunts, trials
from ..studio.stock import taking_in, views
from ..studio.work import Order
from .limits import Limit
from .queue import ask, task

log = structlog.get_logger()


@task("evaluate_edit", left=evaluating.waiting_work)
def evaluate_edit(edit: int) -> None:
    """Run the recipe of an edit and store the piece it makes, or what is wrong with it."""
    evaluating.evaluate_edit(edit)
    log.info("edit evaluated", edit=edit)


@task("dress_pieces", Limit(seconds=1200), left=dressings.waiting_work)
def dress_pieces(pieces: list[int], production: int, author: str, order: Order = "given") -> None:
    """Put pieces on in one go, one after the other, each over what is worn."""
    dressing.dress_all(Desk(production, author, ask), pieces, order)


@task("fit_outfit", Limit(seconds=1200))
def fit_outfit(production: int, outfit: int, body: str, ease: float, author: str) -> None:
    """Fit the pieces of an outfit that are made on a body from the skin outwards."""
    outfits.fit_outfit(Desk(production, author, ask), outfit, body, ease)


@task("take_in_file", left=taking_in.waiting_work)
def take_in_file(row: int) -> None:
    """Take one file of a batch into stock."""
    taking_in.take_file(row, ask)


@task("draw_strip")
def draw_strip(item: int) -> None:
    """Draw the views of an item in stock."""
    views.draw(item)


@task("take_apart", left=taking.waiting_work)
def take_apart(apart: int, author: str) -> None:
    """Make the body and the pieces of a dressed body as it is divided."""
    taking.take(apart, author, ask)


@task("wear_piece", left=wearing.waiting_work)
def wear_piece(run_id: int, piece: int, wearer: int, author: str) -> None:
    """Look at one piece on one wearer."""
    wearing.wear_piece(WaitingRow(run=run_id, piece=piece, wearer=wearer), author)


@task("bake_drapes", Limit(seconds=4 * 3600), left=baking.waiting_work)
def bake_drapes(bake: int) -> None:
    """Bake what is left of a list of poses, from the last checkpoint on."""
    baking.bake(bake)


@task("measure_wearer", Limit(seconds=1800), left=trials.waiting_work)
def measure_wearer(trial: int, wearer: int, columns: list[str], pieces: Worn, shots: list[dict]) -> None:
    """Measure those of a wearer's cells of a run that are not measured yet, in the order of `columns`."""
    rows = [ShotRow.model_validate(shot) for shot in shots]
    trials.measure_wearer(trial, wearer, columns, [(name, sha) for name, sha in pieces], rows, ask)


@task("explain_wearer", Limit(seconds=1800))
def explain_wearer(trial: int, wearer: int, pieces: Worn) -> None:
    """Find the causes of each failing cell of a wearer that has none yet."""
    explaining.explain_wearer(trial, wearer, pieces)


@task("hunt_part", Limit(seconds=2 * 3600), left=hunts.waiting_work)
def hunt_part(hunt: int, part: int) -> None:
    """Measure what is left of a part of a hunt."""
    hunts.hunt_part(hunt, part)


@task("plan_sheet", Limit(seconds=4 * 3600), left=carrying_out.waiting_work)
def plan_sheet(plan: int) -> None:
    """Make a plan."""
    planning.make_plan(plan)
