"""The name of a pair of layers."""

from typing import NamedTuple

SKIN = -1
"""The place of the skin among the layers; pieces count from 0, the innermost."""


class Key(NamedTuple):
    """Which layer of an outfit lies over which: places from the skin out."""

    over: int
    under: int
