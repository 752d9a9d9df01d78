"""Frames of arrays: what the browser and the blobs are read from, beside a reader written from the format's description alone."""

import json
import struct
from collections.abc import Mapping

import hypothesis.extra.numpy as hnp
import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from wily_heron.formats.array_frame import STEP, array_frame, moved_rows, pack, read_frame, unpack

KINDS = st.sampled_from(["<f4", "<f8", "<i4", "<i2", "<u2", "|u1", "<i8"])
ARRAYS = st.dictionaries(
    st.text(st.characters(codec="utf-8", exclude_characters="\x00"), min_size=1, max_size=12),
    KINDS.flatmap(lambda kind: hnp.arrays(np.dtype(kind), hnp.array_shapes(min_dims=1, max_dims=3, min_side=0, max_side=5),
                                          elements={"allow_nan": False} if "f" in kind else None)),
    max_size=5,
)
PLAIN = st.one_of(st.none(), st.booleans(), st.integers(-2**53, 2**53), st.text(max_size=12))
NOTES = st.dictionaries(st.text(max_size=8), PLAIN, max_size=4)


def read_by_hand(data: bytes) -> tuple[dict[str, np.ndarray], dict]:
    """Read a frame as its description says: u32 length, JSON header, arrays at offsets from the end of the header."""
    (size,) = struct.unpack_from("<I", data)
    head = json.loads(data[4:4 + size])
    out = {}
    for a in head["arrays"]:
        kind = np.dtype(a["dtype"])
        count = int(np.prod(a["shape"], dtype=np.int64))
        start = 4 + size + a["offset"]
        out[a["name"]] = np.array(memoryview(data)[start:start + count * kind.itemsize]).view(np.uint8).tobytes()
        out[a["name"]] = np.frombuffer(out[a["name"]], kind).reshape(a["shape"])
    return out, head["notes"]


def same(a: Mapping[str, np.ndarray], b: Mapping[str, np.ndarray]) -> bool:
    return list(a) == list(b) and all((x.dtype, x.shape) == (y.dtype, y.shape) and np.array_equal(x, y)
                                      for x, y in zip(a.values(), b.values(), strict=True))


@given(ARRAYS, NOTES)
def test_any_arrays_and_notes_come_back_as_they_were(arrays: dict[str, np.ndarray], notes: dict):
    data = array_frame(arrays, notes)
    for read in (read_frame, read_by_hand):
        back, told = read(data)
        assert same(back, arrays)
        assert told == notes
    back, told = unpack(pack(arrays, notes))
    assert same(back, arrays)
    assert told == notes


@given(ARRAYS)
def test_every_array_begins_at_a_multiple_of_eight_so_that_a_browser_can_view_it_in_place(arrays: dict[str, np.ndarray]):
    data = array_frame(arrays, {})
    (size,) = struct.unpack_from("<I", data)
    assert (4 + size) % 8 == 0
    head = json.loads(data[4:4 + size])
    assert all(a["offset"] % 8 == 0 for a in head["arrays"])
    assert len(data) == 4 + size + sum(-(-arrays[a["name"]].nbytes // 8) * 8 for a in head["arrays"])


def test_what_is_read_may_be_written_to_and_leaves_the_frame_as_it_was():
    data = array_frame({"points": np.zeros((2, 3), np.float32)}, {})
    back, _ = read_frame(data)
    back["points"][:] = 1.0
    assert read_frame(data)[0]["points"].sum() == 0.0


@given(hnp.arrays(np.float64, st.tuples(st.integers(1, 4), st.integers(1, 9), st.just(3)), elements=st.floats(-0.3, 0.3)))
def test_moved_rows_are_the_deltas_to_half_a_step_and_leave_out_what_stays(deltas: np.ndarray):
    rows = moved_rows(deltas)
    back, at = np.zeros_like(deltas), 0
    for shape, count in zip(back, rows["delta_counts"], strict=True):
        mine = slice(at, at + count)
        shape[rows["delta_rows"][mine]] = STEP * rows["delta_steps"][mine]
        at += count
    assert at == len(rows["delta_rows"])
    assert np.abs(back - deltas).max() <= 0.5 * STEP + 1e-12
    still = (np.abs(deltas) < 0.49 * STEP).all(axis=2)
    told = np.zeros(deltas.shape[:2], bool)
    told[np.repeat(np.arange(len(deltas)), rows["delta_counts"]), rows["delta_rows"]] = True
    assert not (told & still).any()


def test_a_move_beyond_the_wire_is_held_at_its_end():
    rows = moved_rows(np.full((1, 1, 3), 9.0))
    assert (rows["delta_steps"] == 32767).all()
