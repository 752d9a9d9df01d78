"""How the skin gives way under a piece: moves of the body at rest, kept with the piece and coming in like its correctives."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from .correctives import Corrective, corrective_notes, noted_correctives


@dataclass(frozen=True)
class Yields:
    """The body's vertices `rows` (r,) int32 move by `moves` (k, r, 3) float32 metres at rest, one for each of `correctives`."""

    correctives: tuple[Corrective, ...]
    rows: np.ndarray
    moves: np.ndarray

    def arrays(self) -> dict[str, np.ndarray]:
        """Return its arrays by name."""
        return {"rows": self.rows, "moves": self.moves}

    def notes(self) -> Any:
        """Return what its moves come in with."""
        return corrective_notes(self.correctives)

    @classmethod
    def from_arrays(cls, arrays: Mapping[str, np.ndarray], notes: Any) -> "Yields":
        """Return the yields of `arrays` and `notes`."""
        return cls(noted_correctives(notes), arrays["rows"], arrays["moves"])

    def whole(self, values: np.ndarray, count: int) -> np.ndarray:
        """Return the move (count, 3) float32 of a body of so many vertices at the correctives' values (k,)."""
        out = np.zeros((count, 3), np.float32)
        there = self.rows < count
        out[self.rows[there]] = np.tensordot(values.astype(np.float32), self.moves[:, there], axes=1)
        return out

    def moved_by(self, pose: str) -> np.ndarray:
        """Return the vertices (q,) that the correctives of a pose move by more than a tenth of a millimetre."""
        mine = [m for c, m in zip(self.correctives, self.moves, strict=True) if c.pose == pose]
        return self.rows[(np.linalg.norm(np.sum(mine, axis=0), axis=1) > 1e-4)] if mine else self.rows[:0]


def with_yield(yields: Yields | None, corrective: Corrective, move: np.ndarray) -> Yields:
    """Return `yields` with a move (n, 3) of the whole body more; one there already for the same pose and shapes gains it.

    Args:
        yields: How the skin gives way so far.
        corrective: What the move comes in with.
        move: (n, 3) metres at rest.
    """
    before = (yields.correctives, yields.rows, yields.moves) if yields else ((), np.zeros(0, np.int32), np.zeros((0, 0, 3), np.float32))
    rows = np.union1d(before[1], np.flatnonzero(np.linalg.norm(move, axis=1) > 1e-6)).astype(np.int32)
    moves = np.zeros((len(before[0]), len(rows), 3), np.float32)
    moves[:, np.searchsorted(rows, before[1])] = before[2]
    alike = next((i for i, c in enumerate(before[0]) if (c.pose, c.shapes) == (corrective.pose, corrective.shapes)), -1)
    if alike >= 0:
        moves[alike] += move[rows].astype(np.float32)
        return Yields(before[0], rows, moves)
    return Yields((*before[0], corrective), rows, np.concatenate([moves, move[rows][None].astype(np.float32)]))
