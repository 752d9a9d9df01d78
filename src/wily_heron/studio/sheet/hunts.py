"""Hunts for failures: the outfit in random poses on the cast and on mixes of it; a job a wearer, what fails is kept."""

from dataclasses import dataclass

from ...core.errors import InputError
from ...core.look.portrait import cell_portrait
from ...core.motion.mixes import mixes
from ...core.motion.own_poses import pose_for
from ...core.motion.random_poses import random_poses
from ...formats.images.png import write_png
from ...store.db import Connection, transaction
from ...store.productions.wearers import cast_of
from ...store.rail.pieces import rail_of
from ...store.sheet import hunts as store
from ...store.sheet.hunts import FoundRow, Hunted, HuntRow, PartRow
from .. import failures, work
from ..desk import Desk
from ..work import Work
from ..worn import dressed, worn_by, worn_then
from .trials import PICTURE

_SHOWN = 24
"""So many of the poses that failed are told of, the worst."""


@dataclass(frozen=True)
class Hunt:
    """A hunt with its parts, how many cells failed, and the worst of the poses."""

    row: HuntRow
    parts: list[PartRow]
    failed: int
    worst: list[FoundRow]


def begin(desk: Desk, poses: int, share: float, count: int) -> Hunt:
    """Try the outfit in seeded random poses on every wearer and on `count` mixes of those who wear what the first does, on the house's
    figure; a new seed each time. Raises `InputError` where nothing is worn."""
    with transaction() as connection:
        cast = cast_of(connection, desk.production)
        outfit = worn_by(rail_of(connection, desk.production), cast)
        cast = [w for w in cast if w.name in outfit]
        if not cast:
            raise InputError(what="nothing is worn yet", where="the hunt", todo="Bring in a piece first.")
        before = store.latest_hunt(connection, desk.production)
        seed = before.seed + 1 if before else 1
        alike = [w for w in cast if w.body is None and outfit[w.name] == outfit[cast[0].name]]  # mixes wear what the first has on
        parts = [Hunted(name=w.name, wearer=w.id, body=w.body, shape=w.shape) for w in cast]
        mixed = mixes([w.shape for w in alike], count, seed) if alike else []
        parts += [Hunted(name=f"Mix {seed}.{k + 1}", wearer=None, body=None, shape=shape) for k, shape in enumerate(mixed)]
        outfit |= {part.name: outfit[cast[0].name] for part in parts if part.wearer is None}
        hunt = store.add_hunt(connection, desk.production, outfit, seed, share, parts, poses)
    for part in range(len(parts)):
        desk.ask(work.hunt(hunt, part))
    return get(hunt)


def get(hunt: int) -> Hunt:
    """Return a hunt. Raises `NotFound` if there is none."""
    with transaction() as connection:
        return _hunt(connection, store.get_hunt(connection, hunt))


def latest(production: int) -> Hunt | None:
    """Return the newest hunt, if there is one."""
    with transaction() as connection:
        found = store.latest_hunt(connection, production)
        return _hunt(connection, found) if found else None


def cancel(hunt: int) -> Hunt:
    """Stop a hunt; what was found stays."""
    with transaction() as connection:
        store.cancel_hunt(connection, hunt)
    return get(hunt)


def waiting_work() -> list[Work]:
    """Return what a crash left of hunts."""
    with transaction() as connection:
        return [work.hunt(hunt, part) for hunt, part in store.open_parts(connection)]


def hunt_part(hunt: int, part: int) -> None:
    """Measure what is left of a part of a hunt, a wearer in seeded random poses. Safe to run twice; stops where it has been cancelled."""
    with transaction() as connection:
        row, mine = store.find_hunt(connection, hunt), store.find_part(connection, hunt, part)
    if row is None or mine is None:
        return
    try:
        made = dressed(mine.body, mine.shape, worn_then(row.outfit, mine.name, mine.body))
    except Exception as error:  # a hunt must never wait for a wearer that cannot be dressed
        failures.explain(error, "hunting", hunt=hunt, part=part)
        _note(hunt, part, mine.poses)
        return
    for place, pose in enumerate(random_poses(mine.poses, row.seed, row.share)):
        if place < mine.done:
            continue
        if not _goes_on(hunt):
            return
        turns = {j: [round(float(x), 6) for x in q] for j, q in pose.rotations.items()}
        cell = made.measure(pose_for(pose.name, turns), look_for_holes=True)  # as it is kept: told again, it comes to the same
        if not cell.figures.holds:
            picture = write_png(cell_portrait(made, cell, PICTURE, alpha=True))
            with transaction() as connection:
                store.add_found(connection, hunt, part, place, turns, cell.figures, picture)
        _note(hunt, part, place + 1)


def _goes_on(hunt: int) -> bool:
    with transaction() as connection:
        now = store.find_hunt(connection, hunt)
    return now is not None and now.state == "running"


def _note(hunt: int, part: int, done: int) -> None:
    with transaction() as connection:
        store.set_done(connection, hunt, part, done)


def _hunt(connection: Connection, row: HuntRow) -> Hunt:
    return Hunt(row, store.parts_of(connection, row.id), store.failures_of(connection, row.id), store.worst_of(connection, row.id, _SHOWN))
