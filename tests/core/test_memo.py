"""The one cache: by bytes, by identity, the least recently used first."""

import gc
import weakref
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.fit.skin_under import under_of
from wily_heron.core.memo import Memo, Same, bytes_of, memo_sizes
from wily_heron.core.mesh.topology import topology_of


def _block(kilobytes: int) -> np.ndarray:
    return np.zeros(1024 * kilobytes, np.uint8)


def test_what_was_used_least_recently_goes_when_the_bytes_are_full():
    memo: Memo[np.ndarray] = Memo("blocks", 10 * 1024)
    for name in "abc":
        memo.of(name, lambda: _block(3))
    memo.of("a", lambda: _block(3))  # b is the oldest now
    memo.of("d", lambda: _block(3))
    made = []
    for name in "acdb":
        memo.of(name, lambda name=name: made.append(name) or _block(3))  # type: ignore[misc, func-returns-value]
    assert made == ["b"]
    assert memo.size.bytes <= memo.max_bytes


def test_what_alone_is_too_large_is_kept_until_the_next():
    memo: Memo[np.ndarray] = Memo("large", 1024)
    large = memo.of("large", lambda: _block(5))
    assert memo.of("large", lambda: _block(1)) is large
    memo.of("next", lambda: _block(1))
    assert memo.of("large", lambda: _block(2)) is not large


def test_arrays_that_several_entries_share_count_once():
    shared = _block(8)
    memo: Memo[tuple[np.ndarray, ...]] = Memo("shared", 10 * 1024)
    for k in range(6):
        memo.of(k, lambda: (shared[::2], _block(0)))
    assert (memo.size.entries, memo.size.bytes) == (6, 8 * 1024)


def test_what_has_grown_since_it_was_kept_is_counted_before_long():
    memo: Memo[list[np.ndarray]] = Memo("growing", 20 * 1024)
    kept = [memo.of(k, lambda: [_block(1)]) for k in range(5)]
    for each in kept:
        each.append(_block(4))
    for k in range(5, 10):
        memo.of(k, lambda: [_block(1)])
    assert memo.size.bytes <= memo.max_bytes


@given(st.lists(st.tuples(st.integers(0, 9), st.integers(0, 5), st.integers(0, 5)), max_size=60))
def test_what_is_kept_fits_whatever_is_shared_between_entries(asked: list[tuple[int, int, int]]):
    """Against the sum of the arrays that are reached, each once."""
    blocks, memo = [_block(k + 1) for k in range(6)], Memo[tuple[np.ndarray, ...]]("any", 12 * 1024)
    for key, one, other in asked:
        memo.put(key, (blocks[one], blocks[other][::2]))
        held = {id(b): b.nbytes for entry in memo._known.values() for b in (entry[0], entry[1].base)}
        assert memo.size.bytes == sum(held.values())
        assert memo.size.bytes <= memo.max_bytes or memo.size.entries == 1


def test_bytes_are_those_of_all_arrays_that_are_reached():
    body = figure(1)
    arrays = (body.base, body.triangles, body.deltas)
    assert bytes_of(body) >= sum(a.nbytes for a in arrays)
    assert bytes_of({"a": [body, body]}) == bytes_of(body)
    assert bytes_of(_block(4)[:10]) == 4096  # a view keeps all of it


def test_an_object_that_is_gone_is_not_taken_for_another_at_its_place():
    """Bodies of equal shape values, made and dropped one after the other, as a process does that sees many: some come to lie where one lay
    before, and each must be measured by its own skin."""
    body = figure(1)
    for k in range(30):
        moved = replace(body, base=body.base + np.float32(0.01 * k))
        wearer = shaped(moved, moved.made_at)
        assert np.abs(under_of(wearer).skin.points - wearer.points).max() < 1e-5
        triangles = body.triangles[: 100 + k].copy()
        assert len(topology_of(triangles, len(body.base)).triangles) == 100 + k
        del moved, wearer, triangles
        gc.collect()


def test_a_key_holds_its_object_as_long_as_the_entry_is_kept():
    class Thing:
        pass

    memo: Memo[int] = Memo("things", 1024)
    thing = Thing()
    there = weakref.ref(thing)
    memo.of(Same(thing), lambda: 1)
    del thing
    gc.collect()
    assert there() is not None
    memo.clear()
    gc.collect()
    assert there() is None


def test_threads_that_ask_at_once_all_get_the_same_answer():
    memo: Memo[np.ndarray] = Memo("threads", 2**20)
    with ThreadPoolExecutor(8) as pool:
        answers = list(pool.map(lambda k: memo.of(k % 5, lambda: np.full(100, k % 5)), range(400)))
    assert all((answer == k % 5).all() for k, answer in enumerate(answers))
    told = next(size for size in memo_sizes() if size.name == "threads")
    assert (told.entries, told.found + told.made) == (5, 400)
