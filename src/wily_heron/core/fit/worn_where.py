"""Whether a fitted piece lies where its category is worn."""

import numpy as np

from ..figure.on_figure import figure_tree
from ..figure.regions import face_regions

_TRUNK = ("chest", "belly", "upper_back", "lower_back", "shoulder")
_HIPS = ("lap", "seat")
_LIES_OVER: dict[str, tuple[tuple[str, ...], ...]] = {
    "top": (_TRUNK,),
    "bottom": ((*_HIPS, "thigh"),),
    "dress": (_TRUNK, _HIPS),
    "suit": (_TRUNK, _HIPS),
    "footwear": (("foot", "sole", "toes"),),
    "glove": (("palm", "back_of_hand"),),
    "headwear": (("scalp",),),
    "hair": (("scalp",),),
    "beard": (("face",),),
}
"""What each category lies over wherever it is worn, by regions of the body: one of each group."""
_SHARE = 0.08
"""So much of a piece lies over a region it is worn at: of the demo's pieces the least is 0.15, and of one at the shins 0."""


def worn_elsewhere(points: np.ndarray, category: str, carrier: np.ndarray) -> str | None:
    """Return what is wrong with where a fitted piece lies, or None.

    Args:
        points: (n, 3) float, metres.
        category: What it is; a rigid piece may be worn anywhere.
        carrier: (b, 3) metres, the level-1 figure's vertices on the body.

    >>> from ..figure.figure import figure
    >>> feet = figure(1).base[figure(1).base[:, 1] < 0.05]
    >>> worn_elsewhere(feet, "headwear", figure(1).base)
    'Headwear is worn over the scalp; most of this piece lies over the toes. Check its unit, its place and its category.'
    """
    names, of = face_regions(1)
    over = [names[r].removeprefix("l_").removeprefix("r_") for r in of[figure_tree(carrier).nearest(points).triangle]]
    held, count = np.unique(over, return_counts=True)
    share = dict(zip(held.tolist(), (count / len(points)).tolist(), strict=True))
    missed = [group for group in _LIES_OVER.get(category, ()) if sum(share.get(region, 0.0) for region in group) < _SHARE]
    if not missed:
        return None
    most = str(held[np.argmax(count)]).replace("_", " ")
    wanted = " and ".join(_either(group) for group in missed)
    what = category if category in ("headwear", "footwear", "hair") else f"a {category}"
    return (f"{what.capitalize()} is worn over the {wanted}; most of this piece lies over the {most}. "
            "Check its unit, its place and its category.")


def _either(regions: tuple[str, ...]) -> str:
    """The regions in words: "lap, seat or thigh"."""
    *first, last = (region.replace("_", " ") for region in regions)
    return f"{', '.join(first)} or {last}" if first else last
