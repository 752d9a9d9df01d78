"""The one cache: what was made before is kept by name, up to a number of bytes, the least recently used going first."""

from collections import OrderedDict
from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass
from functools import wraps
from threading import Lock
from typing import Any, Generic, ParamSpec, TypeVar

import numpy as np

Made = TypeVar("Made")
Asked = ParamSpec("Asked")
_OURS = ("wily_heron.", "scipy.sparse.")
"""Objects of these modules are looked into for the arrays they hold."""


class Same:
    """A key for an object itself, whatever it holds. It holds the object, so that no other can come to have its identity."""

    __slots__ = ("it",)

    def __init__(self, it: object) -> None:
        self.it = it

    def __hash__(self) -> int:
        return id(self.it)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Same) and self.it is other.it


@dataclass(frozen=True)
class MemoSize:
    """How full a memo is: its `entries`, their `bytes` of at most `max_bytes`, and how often an answer was found or made."""

    name: str
    entries: int
    bytes: int
    max_bytes: int
    found: int
    made: int


class Memo(Generic[Made]):
    """Keeps what was made for the keys met last, as much of it as fits in `max_bytes`; the newest is always kept.

    Arrays that several entries share count once. What is kept is handed to every caller: nobody may write to it.
    """

    def __init__(self, name: str, max_bytes: int) -> None:
        self.name, self.max_bytes = name, max_bytes
        self._known: OrderedDict[Hashable, Made] = OrderedDict()
        self._weights, self._shared, self._bytes = OrderedDict[Hashable, dict[int, int]](), dict[int, int](), 0
        self._gate, self._found, self._made = Lock(), 0, 0
        _MEMOS.append(self)

    def of(self, key: Hashable, make: Callable[[], Made]) -> Made:
        """Return what was made for `key`, or make it now. Two threads that ask at once may both make it."""
        with self._gate:
            if key in self._known:
                self._known.move_to_end(key)
                self._found += 1
                return self._known[key]
        return self.put(key, make())

    def put(self, key: Hashable, made: Made) -> Made:
        """Keep `made` for `key`, and let go of what no longer fits."""
        with self._gate:
            self._made += 1
            self._known[key] = made
            self._known.move_to_end(key)
            self._weigh(key)
            self._weigh(next(iter(self._weights)))  # what is kept may have grown: one is weighed again each time, in turn
            while self._bytes > self.max_bytes and len(self._known) > 1:
                self._let_go(next(iter(self._known)))
        return made

    def _weigh(self, key: Hashable) -> None:
        """Count the arrays that an entry holds, and no longer those it held when it was weighed last."""
        self._unweigh(key)
        self._weights[key] = weights = _weights(self._known[key])
        for array, size in weights.items():
            self._shared[array] = self._shared.get(array, 0) + 1
            if self._shared[array] == 1:
                self._bytes += size

    def _unweigh(self, key: Hashable) -> None:
        for array, size in self._weights.pop(key, {}).items():
            self._shared[array] -= 1
            if not self._shared[array]:
                del self._shared[array]
                self._bytes -= size

    def _let_go(self, key: Hashable) -> None:
        self._unweigh(key)
        del self._known[key]

    def clear(self) -> None:
        """Forget everything."""
        with self._gate:
            self._known.clear()
            self._weights.clear()
            self._shared.clear()
            self._bytes = 0

    @property
    def size(self) -> MemoSize:
        """How full it is now."""
        with self._gate:
            held = bytes_of(list(self._known.values()))
            return MemoSize(self.name, len(self._known), held, self.max_bytes, self._found, self._made)


def memoised(memo: Memo[Any]) -> Callable[[Callable[Asked, Made]], Callable[Asked, Made]]:
    """Decorate a function whose answers for the same arguments are kept in a memo of many kinds.

    >>> shelf = Memo("squares", 1000)
    >>> square = memoised(shelf)(lambda n: n * n)
    >>> square(3), square(3), shelf.size.made
    (9, 9, 1)
    """

    def keeping(make: Callable[Asked, Made]) -> Callable[Asked, Made]:
        @wraps(make)
        def known(*args: Asked.args, **kwargs: Asked.kwargs) -> Made:
            return memo.of((make, args, *sorted(kwargs.items())), lambda: make(*args, **kwargs))

        return known

    return keeping


_MEMOS: list[Memo[Any]] = []


def memo_sizes() -> list[MemoSize]:
    """Return how full each memo of this process is."""
    return [memo.size for memo in _MEMOS]


def bytes_of(value: object) -> int:
    """Return the bytes of all arrays, texts and bytes that `value` reaches through containers and our own objects, each counted once.

    >>> import numpy as np
    >>> row = np.zeros(10)
    >>> bytes_of([row, row, {"again": row}])  # once
    80
    """
    return sum(_weights(value).values())


def _weights(value: object) -> dict[int, int]:
    """Return the bytes of every array, text and bytes that `value` reaches, by its identity."""
    found, seen, left = dict[int, int](), set[int](), [value]
    while left:
        one = left.pop()
        if isinstance(one, np.ndarray):
            while isinstance(one.base, np.ndarray):
                one = one.base
        if id(one) in seen:
            continue
        seen.add(id(one))
        if isinstance(one, np.ndarray):
            found[id(one)] = one.nbytes
        elif isinstance(one, bytes | str):
            found[id(one)] = len(one)
        elif isinstance(one, Mapping):
            left += one.values()
        elif isinstance(one, list | tuple | set | frozenset):
            left += one
        elif type(one).__module__.startswith(_OURS):
            left += vars(one).values() if hasattr(one, "__dict__") else [getattr(one, s) for s in getattr(one, "__slots__", ())]
    return found
