"""Outfits of the film's own stock, dressed as an artist would: each piece fitted over all that is worn under it, bound and following."""

from collections.abc import Sequence
from functools import lru_cache

from demo.base_layer import FILE as BASE_LAYER
from demo.stock import stock
from wily_heron.core.bench.evaluate import run_step
from wily_heron.core.figure.base.body import Wearer, shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.model.model import Model
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.bind import Bind
from wily_heron.core.model.steps.fit import Fit
from wily_heron.core.model.steps.follow import Follow
from wily_heron.core.model.steps.receive import Receive
from wily_heron.core.work.grow import Growth, grow
from wily_heron.formats.piece_read import read_model_file

OUTFITS = {
    "ferryman in the rain": ("Base layer", "Marsh trousers", "Smock", "Felt boots", "Oilskin coat", "Storm hat"),
    "night round": ("Base layer", "Marsh trousers", "Felt boots", "Smock", "Mittens", "Belt with lantern", "Satchel", "Scarf",
                    "Knitted cap", "Mail tabard"),
    "sorting hall": ("Base layer", "Felt boots", "Marsh trousers", "Smock", "Apron", "Knitted cap", "Satchel"),
    "high water": ("Base layer", "Waders", "Smock", "Belt with lantern", "Mittens", "Storm hat"),
}
"""Rails from the skin out, with boots, hats, gloves and belts between the garments."""
_NEXT_TO_SKIN = ("Base layer", "Socks")
CARRIED = {"Satchel": "sacroiliac"}
_STANDS = ("Scarf",)
"""What hangs as its maker placed it, carried by a joint."""


TEN = ("Base layer", "Socks", "Felt boots", "Marsh trousers", "Smock", "Mittens", "Oilskin coat", "Belt with lantern", "Scarf", "Storm hat")
"""The ten pieces of the sheet's suite, from the skin out."""


def dressed_in_stock(names: Sequence[str], wearer: Wearer, ease: float = 0.004) -> dict[str, Piece]:
    """Return pieces of stock (the base layer, and socks grown from the skin, besides) as they are worn over one another on `wearer`, by
    name, from the skin out."""
    worn: dict[str, Piece] = {}
    for name in names:
        state = run_step(Piece.of(_models()[name], wearer.shape), wearer, Receive())
        over = tuple(worn)
        fit = Fit(ease=0.002, keep=0.9) if name in _NEXT_TO_SKIN else Fit(ease=ease, over=over, align=name not in _STANDS)
        steps = (Bind(source="joint", joint=CARRIED[name]), Follow()) if name in CARRIED else (fit, Bind(over=over), Follow(over=over))
        for step in steps:
            state = run_step(state, wearer, step, layer_of=worn.__getitem__)
        worn[name] = state
    return worn


@lru_cache(maxsize=1)
def _models() -> dict[str, Model]:
    socks = grow(shaped(figure(), {}), Growth(regions=("ankle", "foot", "sole", "toes"), ease=0.002, even=1.0))
    return {"Base layer": read_model_file(BASE_LAYER), "Socks": Model(socks), **{p.name: Model(p.mesh) for p in stock()}}
