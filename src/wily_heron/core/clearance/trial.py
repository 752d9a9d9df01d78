"""The trial sheet: every wearer in every pose, measured."""

from collections.abc import Iterator, Mapping

from ..figure.body import Body, shape_values, shaped
from ..figure.pose import Pose
from ..piece.state import Piece
from .cell import CellResult, Dressed


def trial(body: Body, pieces: dict[str, Piece], wearers: Mapping[str, Mapping[str, float]],
          poses: Mapping[str, Pose]) -> Iterator[tuple[str, str, Dressed, CellResult]]:
    """Yield `(wearer, pose, dressed, cell)` for every wearer (shape settings by name) in every pose."""
    for name, settings in wearers.items():
        dressed = Dressed(shaped(body, shape_values(body, settings)), pieces)
        for pose_name, pose in poses.items():
            yield name, pose_name, dressed, dressed.measure(pose)
