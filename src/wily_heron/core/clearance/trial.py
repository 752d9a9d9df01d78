"""The trial sheet: every wearer in every pose, measured; a motion stands for its worst frame."""

from collections.abc import Iterator, Mapping, Sequence

from ..figure.base.body import Body, shape_values, shaped
from ..model.state import Piece
from ..motion.motion import Motion
from ..motion.pose import Pose
from .cell import CellResult, Dressed
from .find.shots import Shot


def trial(body: Body, pieces: dict[str, Piece], wearers: Mapping[str, Mapping[str, float]],
          poses: Mapping[str, Pose], shots: Sequence[Shot] | None = None) -> Iterator[tuple[str, str, Dressed, CellResult]]:
    """Yield `(wearer, pose, dressed, cell)` for every wearer (shape settings by name) in every pose, with what `shots` see."""
    for name, settings in wearers.items():
        dressed = Dressed(shaped(body, shape_values(body, settings)), pieces)
        for pose_name, pose in poses.items():
            yield name, pose_name, dressed, dressed.measure(pose, shots=shots)


def worst_frame(dressed: Dressed, motion: Motion, apart: float = 1 / 12) -> tuple[int, CellResult]:
    """Return the frame of a motion in which most shows, else the one with the least clearance, and its cell.

    Frames `apart` seconds are measured, then all between the worst and those beside it: what flashes up for less is missed.
    """
    step = max(1, round(apart / motion.seconds))
    last = len(motion.rotations) - 1
    cells: dict[int, CellResult] = {}

    def badness(frame: int) -> tuple[float, float]:
        if frame not in cells:
            cells[frame] = dressed.measure(motion.pose(frame))
        return cells[frame].figures.area_cm2, -cells[frame].figures.clearance_mm

    worst = max(range(0, last + 1, step), key=badness)
    worst = max(range(max(0, worst - step + 1), min(last, worst + step - 1) + 1), key=badness)
    return worst, cells[worst]
