"""What kind of piece it is, guessed from where it hangs and how it opens."""

from dataclasses import dataclass

import numpy as np

from ..mesh.islands import islands
from ..mesh.loops import border_loops

CATEGORIES = ("top", "bottom", "dress", "suit", "footwear", "glove", "headwear", "hair", "beard", "rigid")
ENCLOSING = frozenset({"footwear", "glove", "headwear"})
"""What closes over the end of a limb or the crown."""


@dataclass(frozen=True)
class Guess:
    """A category, how sure (0..1), and why."""

    name: str
    sure: float
    why: str


def guess_category(points: np.ndarray, triangles: np.ndarray, stature: float) -> Guess:
    """Return the likeliest category of a piece in metres, Y up, standing where it is worn beside a wearer of `stature`.

    Heights are shares of the stature. A piece that does not hang at a body's height (or is told by its size alone) is guessed with
    less confidence.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        stature: The wearer's, metres.

    >>> import trimesh
    >>> hat = trimesh.creation.icosphere(subdivisions=2, radius=0.12).apply_translation([0, 1.68, 0])
    >>> guess_category(hat.vertices, hat.faces, 1.7).name
    'headwear'
    """
    low, high = points.min(axis=0), points.max(axis=0)
    bottom, top = low[1] / stature, high[1] / stature
    size = (high - low) / stature
    count, label = islands(triangles, len(points))
    sizes = np.bincount(label, minlength=count)
    pair = count >= 2 and sizes[1] > 0.6 * sizes[0] and points[label == 0, 0].mean() * points[label == 1, 0].mean() < 0
    loops = [loop for loop in border_loops(triangles) if len(loop) > 8]
    low_openings = sum(points[loop, 1].mean() / stature < bottom + 0.08 for loop in loops)
    spot = f"it hangs from {100 * max(bottom, 0.0):.0f} to {100 * top:.0f} % of the stature"
    if bottom < -0.05 or top > 1.35:
        return Guess("rigid", 0.2, f"{spot}: it does not stand where it is worn")
    if bottom > 0.86:
        return Guess("headwear", 0.8, spot)
    if top < 0.34 and bottom < 0.04:
        return Guess("footwear", 0.9 if pair else 0.6, spot + (", a pair" if pair else ""))
    if pair and size[0] > 0.35 and size[1] < 0.30:
        return Guess("glove", 0.7, f"{spot}, a pair far apart")
    if top < 0.68 and bottom < 0.35:
        return Guess("bottom", 0.85, spot)
    if top > 0.74 and bottom < 0.12:
        legs = low_openings >= 2
        return Guess("suit" if legs else "dress", 0.7, f"{spot}, {'two legs' if legs else 'one hem'}")
    if top > 0.72 and size[1] > 0.12 and size[0] > 0.12:
        two_legs = low_openings >= 2 and bottom < 0.48
        return Guess("suit" if two_legs else "top", 0.75, spot + (", two legs" if two_legs else ""))
    return Guess("rigid", 0.4, f"{spot} and is {100 * stature * size.max():.0f} cm long")
