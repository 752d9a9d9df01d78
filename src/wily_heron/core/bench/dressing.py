"""The steps that put a placed piece on in one go."""

from collections.abc import Mapping

from ..model.steps.alteration import Alteration, Cell
from ..model.steps.bind import Bind
from ..model.steps.clear import Clear
from ..model.steps.fit import Fit
from ..model.steps.follow import Follow

_LAYERS = ("suit", "hair", "beard", "footwear", "bottom", "dress", "top", "glove", "headwear", "rigid")
"""Categories from the skin outwards, as most people dress: a trouser leg hangs over a boot, a coat over all but gloves and hat."""


def layer_of(category: str) -> int:
    """Return how far from the skin a piece of a category is worn among others that come with it; one that is not known lies outermost.

    >>> sorted(["top", "footwear", "suit", "bottom"], key=layer_of)
    ['suit', 'footwear', 'bottom', 'top']
    """
    return _LAYERS.index(category) if category in _LAYERS else len(_LAYERS)


def dressing_steps(ease: float, over: tuple[str, ...], shape: Mapping[str, float]) -> tuple[Alteration, ...]:
    """Return the steps that fit a placed piece at `ease` metres, bind it, make it follow the body's shapes, and clear it at rest.

    Args:
        ease: The distance asked for from what lies under, metres.
        over: The addresses of the pieces under it, from the skin out.
        shape: The settings of the wearer it is cleared on.

    >>> [step.kind for step in dressing_steps(0.009, (), {})]
    ['fit', 'bind', 'follow', 'clear']
    """
    rest = Clear(cells=(Cell(shape=dict(shape), pose="rest"),), keep="rest", over=over)
    return Fit(ease=ease, over=over), Bind(over=over), Follow(over=over), rest
