"""How a clearing is kept: for the pose, for the wearer's shape, or for good, whichever holds best where it was not made."""

from collections.abc import Callable, Sequence

import numpy as np

from ..figure.base.body import Body
from ..figure.base.rotation import IDENTITY
from ..model.state import Piece
from ..model.steps.clear import CellClearing, Keep, Loose, WayKept
from ..motion.motion import slerp
from ..motion.pose import Pose
from ..motion.random_poses import random_poses
from .clear import Way
from .clear_cells import Cell as ShapeInPose
from .clear_cells import clear_cells, measure_cells
from .layers import ALONE, Layers
from .pose_fix import clear_poses
from .wear_on import clear_wearers

_MOST, _RANDOM, _SEED = 3, 3, 29
_EQUAL_CM2 = 0.05
"""What keeps as much to within so many cm2 is as good: then what comes in with fewer poses is taken."""


def clear_best(piece: Piece, body: Body, cells: Sequence[ShapeInPose], ease: float, layers: Layers = ALONE, way: Way = "out",
               loose: Loose = "falls") -> tuple[Piece, list[CellClearing], list[WayKept]]:
    """Return the piece cleared in `cells` and kept in the way that then shows least in them and apart from them, the report per cell, and
    what each way came to, the best first.

    Apart from them are the same wearers half-way into the same poses, and in seeded random poses.

    Args:
        piece: The piece, bound.
        body: The body, in any shape.
        cells: Shape values (s,) and pose of each.
        ease: How far apart layers are brought, metres.
        layers: The pieces under it and over it.
        way: "out" off what lies under it, "in" beneath what lies over it.
        loose: "falls" where cloth about the legs falls as cloth, "eased" where it is eased out alone.
    """
    apart = held_out(cells)
    ways: dict[Keep, Callable[[], tuple[Piece, list[CellClearing]]]] = {"rest": lambda: clear_cells(piece, body, cells, ease, layers, way)}
    if any(pose.rotations for _, pose in cells):
        ways["pose"] = lambda: clear_poses(piece, body, cells, ease, layers, way, loose)
    if way == "out" and any(np.abs(shape - piece.made_at).max() > 0.05 for shape, _ in cells):
        ways["shape"] = lambda: clear_wearers(piece, body, cells, ease, layers)
    made: dict[Keep, tuple[Piece, list[CellClearing]]] = {keep: work() for keep, work in ways.items()}
    def shown(done: Piece, where: Sequence[ShapeInPose]) -> float:
        return sum(f.area_cm2 for f in measure_cells(done, body, where, layers))

    kept = [WayKept(keep=keep, here=shown(done, cells), apart=shown(done, apart)) for keep, (done, _) in made.items()]
    order = ("pose", "shape", "rest")
    kept.sort(key=lambda k: (round((k.here + k.apart) / _EQUAL_CM2), order.index(k.keep)))
    return *made[kept[0].keep], kept


def held_out(cells: Sequence[ShapeInPose]) -> list[ShapeInPose]:
    """Return cells apart from those given, on the same wearers: half-way into a few of their poses, and in seeded random ones."""
    shapes = list({shape.tobytes(): shape for shape, _ in cells}.values())[:_MOST]
    poses = [p for p in {p.name: p for _, p in cells}.values() if p.rotations][:_MOST]
    others = [*map(_half, poses), *random_poses(_RANDOM, _SEED, 0.4)]
    return [(shape, pose) for shape in shapes for pose in others]


def _half(pose: Pose) -> Pose:
    turns = {j: slerp(IDENTITY, np.asarray(q, float), np.array(0.5)) for j, q in pose.rotations.items()}
    return Pose(f"{pose.name}, half", f"{pose.label}, half", pose.family, turns)
