"""What belongs under what, by the rest shapes of the two layers: judged once, since a corrective leaves them as they are."""

import hashlib
from collections import OrderedDict
from threading import Lock

import numpy as np

from .cover import Cover, cover

_KNOWN: OrderedDict[bytes, Cover] = OrderedDict()
_SIZE = 32
_GATE = Lock()


def cover_of(under: np.ndarray, under_triangles: np.ndarray, over: np.ndarray, over_triangles: np.ndarray) -> Cover:
    """Return `cover` of the same arrays, as it was found if they were met among the last few dozen."""
    told = hashlib.blake2b(digest_size=20)
    for array in (under, under_triangles, over, over_triangles):
        told.update(f"{array.shape}{array.dtype}".encode())
        told.update(np.ascontiguousarray(array).data)
    key = told.digest()
    with _GATE:
        if key in _KNOWN:
            _KNOWN.move_to_end(key)
            return _KNOWN[key]
    made = cover(under, under_triangles, over, over_triangles)
    with _GATE:
        _KNOWN[key] = made
        while len(_KNOWN) > _SIZE:
            _KNOWN.popitem(last=False)
    return made
