"""A soft lattice round a region: its knots are pulled, the cloth inside follows."""

import numpy as np

from ..errors import InputError
from ..model.steps.hand import Lattice


def knots(step: Lattice) -> np.ndarray:
    """Return where the knots stand at rest, `((a + 1) (b + 1) (c + 1), 3)`, x slowest and z fastest."""
    axes = [np.linspace(lo, hi, n + 1) for lo, hi, n in zip(step.low, step.high, step.cells, strict=True)]
    return np.stack(np.meshgrid(*axes, indexing="ij"), axis=-1).reshape(-1, 3)


def bent(points: np.ndarray, step: Lattice, protect: np.ndarray | None = None) -> np.ndarray:
    """Return points (n, 3) moved by the lattice: by the knots of the cell each lies in, fading to nothing a cell past its borders.

    Raises `InputError` for a box without room or a knot that is not there. Follows: Sederberg & Parry, Free-form deformation of solid
    geometric models, 1986 (soft tents in place of Bernstein polynomials, so that each knot is where the cloth goes and works near itself).

    Args:
        points: (n, 3) float, metres.
        step: The box and where its knots are moved.
        protect: (n,) float, 0 to 1, how much each vertex is held back.
    """
    low, high, cells = np.array(step.low), np.array(step.high), np.array(step.cells)
    if (high - low <= 1e-4).any():
        raise InputError(what="its box has no room", where="the lattice", todo="Draw the lattice over some of the piece.")
    count = int(np.prod(cells + 1))
    moves = np.zeros((count, 3))
    for knot in step.knots:
        if knot.at >= count:
            raise InputError(what=f"it has no knot {knot.at}", where="the lattice", todo=f"Its knots are 0 to {count - 1}.")
        moves[knot.at] = knot.move
    p = np.asarray(points, np.float64)
    at = (p - low) / (high - low) * cells
    weights = [_tent(at[:, a, None] - np.arange(cells[a] + 1)) for a in range(3)]
    grid = moves.reshape(*(cells + 1), 3)
    out = p + np.einsum("ni,nj,nk,ijka->na", *weights, grid) * (1.0 if protect is None else 1.0 - protect[:, None])
    return out


def _tent(x: np.ndarray) -> np.ndarray:
    """A tent with soft edges: 1 at a knot, 0 at its neighbours, curvature continuous, the knots' shares adding up to 1."""
    x = np.minimum(np.abs(x), 1.0)
    return 1.0 - x**3 * (6 * x**2 - 15 * x + 10)
