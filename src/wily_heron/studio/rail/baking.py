"""Baking: a piece falls as cloth in one pose after the other, each kept as a corrective for its pose."""

from collections.abc import Sequence

from ...core.bench.steps.drape import draping
from ...core.errors import InputError
from ...core.figure.base.pose_types import Pose
from ...core.model.steps.alteration import Cell
from ...core.model.steps.draping import Drape
from ...core.model.worn import rest_moves
from ...core.motion.own_poses import pose_for
from ...store.db import transaction
from ...store.productions.bodies import body_for
from ...store.productions.poses import pose_of
from ...store.rail import bakes as store
from ...store.rail.bakes import BakedPose, BakeRow
from ...store.rail.pieces import as_it_stands, get_piece, piece_at
from .. import failures, work
from ..desk import Desk
from ..work import Work
from .drapes import Fallen, keep_in
from .standing import standing

_OFTEN = 12
"""Frames from one checkpoint to the next."""


def begin(desk: Desk, piece: int, step: Drape, poses: Sequence[str]) -> BakeRow:
    """Let a piece fall in each of some poses, as a job: every pose that is done is kept as a corrective and one edit."""
    standing(piece).bound()
    with transaction() as connection:
        named = [pose_of(connection, name) for name in dict.fromkeys(poses)]
        frames = step.settle + step.move + step.hang
        store.add_bake(connection, desk.production, piece, step, [BakedPose(name=p.name, label=p.label) for p in named], frames,
                       desk.artist)
        made = store.latest_bake(connection, piece)
    assert made is not None
    desk.ask(work.bake(made.id))
    return made


def latest(piece: int) -> BakeRow | None:
    """Return the newest bake of a piece, if there is one."""
    with transaction() as connection:
        return store.latest_bake(connection, piece)


def stop(piece: int) -> BakeRow:
    """Stop the bake that is under way; the poses that are done stay kept. Raises `InputError` where none is."""
    with transaction() as connection:
        get_piece(connection, piece)
        found = store.latest_bake(connection, piece)
        if found is None or found.state != "running":
            raise InputError(what="nothing is being baked", where="the drape step", todo="It has ended already.")
        store.end_bake(connection, found, "cancelled")
        return store.latest_bake(connection, piece) or found


def waiting_work() -> list[Work]:
    """Return what a crash left of bakes."""
    with transaction() as connection:
        return [work.bake(bake) for bake in store.running_bakes(connection)]


def bake(number: int) -> None:
    """Bake what is left of a list of poses, from the last checkpoint on. Safe to run twice; stops where it has been cancelled."""
    while True:
        with transaction() as connection:
            row = store.get_bake(connection, number)
        if row is None or row.state != "running":
            return
        try:
            if not _one_pose(row):
                return
        except Exception as error:  # a list must never wait for a pose that cannot be draped
            with transaction() as connection:
                store.end_bake(connection, row, "failed", failures.explain(error, "baking", bake=number))
            return


def _one_pose(bake: BakeRow) -> bool:
    """Let the piece of a bake fall in the pose that is next, and keep it; return whether the bake is to go on."""
    stands, step, pose = standing(bake.piece), *_next_step(bake)
    body = body_for(stands.recipe.body, step.cell.shape)
    falling = draping(stands.piece, body, step, piece_at)
    held = bake.cloth()
    if held is not None:
        falling.take_up(held)
    while falling.done < falling.frames:
        falling.frame()
        often = falling.done % _OFTEN == 0
        if often or falling.done == falling.frames:
            with transaction() as connection:
                if not store.go_on(connection, bake, falling.done, falling.held() if often else None):
                    return False
    report, stance = falling.report(), pose_for(step.cell.pose, step.cell.rotations)
    move, *beside = (rest_moves(p, falling.wearer, stance, points)
                     for p, points in zip((stands.piece, *falling.along), (falling.points, *falling.beside), strict=True))
    with transaction() as connection:
        if not store.end_pose(connection, bake, report.strain_99):
            return False
        fallen = Fallen(stands, step, body, stance, move, tuple(beside), report)
        keep_in(connection, fallen, f"Drape in {step.fabric.name}, {pose.label.lower()}", bake.author)
    return True


def _next_step(bake: BakeRow) -> tuple[Drape, Pose]:
    """Return the drape of the pose that is next, among the pieces that fall along as they stand now, and that pose."""
    with transaction() as connection:
        pose = pose_of(connection, bake.poses[bake.done].name)
        along = [{**each.model_dump(), "piece": as_it_stands(connection, each.piece)} for each in bake.step.along]
    rotations = {j: tuple(map(float, q)) for j, q in pose.rotations.items()} if pose.family == "own" else None
    cell = Cell.model_validate({"shape": bake.step.cell.shape, "pose": pose.name, "rotations": rotations})
    settings = bake.step.model_dump() | {"along": along, "keep": "pose", "motion": "", "until": None, "cell": cell}
    return Drape.model_validate(settings), pose
