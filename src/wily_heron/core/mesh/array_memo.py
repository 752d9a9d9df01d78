"""What is made of an array that stays, kept with it: a mesh's triangles are the same array from cell to cell."""

from collections import OrderedDict
from collections.abc import Callable
from threading import Lock
from typing import Generic, TypeVar

import numpy as np

Made = TypeVar("Made")


class ArrayMemo(Generic[Made]):
    """What was made of each of the last `size` arrays, by which array it is, not what stands in it: they must not be written to."""

    def __init__(self, size: int) -> None:
        self._known: OrderedDict[int, tuple[np.ndarray, Made]] = OrderedDict()
        self._size, self._gate = size, Lock()

    def of(self, array: np.ndarray, make: Callable[[], Made]) -> Made:
        """Return what was made of this array, made now if it is not among the last."""
        with self._gate:
            known = self._known.get(id(array))
            if known is not None and known[0] is array:
                self._known.move_to_end(id(array))
                return known[1]
        made = make()
        with self._gate:
            self._known[id(array)] = (array, made)  # holding the array keeps its id its own
            while len(self._known) > self._size:
                self._known.popitem(last=False)
        return made
