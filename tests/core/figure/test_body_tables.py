"""The tables that draw the body: their language against Python's own arithmetic, and what they draw against the body that is shipped."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wily_heron.core.figure.base.shapes import SHAPES
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.make.body_field import body_field
from wily_heron.core.figure.make.field_kernels import LOFT
from wily_heron.core.figure.make.tables import details, drawing, on_line, sections, total
from wily_heron.core.figure.shape_table import _BESIDES, _SHAPES

NAMES = ("hip", "girth", "lean")
numbers = st.floats(-2, 2).map(lambda v: round(v, 4))
terms = st.one_of(
    numbers.map(lambda v: (str(v), v)),
    st.sampled_from(NAMES).map(lambda n: (n, n)),
    st.tuples(numbers, st.sampled_from(NAMES)).map(lambda t: (f"{t[0]} * {t[1]}", t)),
)


@settings(deadline=None)
@given(st.lists(terms, min_size=1, max_size=5), st.tuples(*[numbers] * 3))
def test_a_cell_is_the_sum_that_python_makes_of_it(cell, values):
    sizes = dict(zip(NAMES, values, strict=True))
    text = " + ".join(t for t, _ in cell)
    assert total(text, sizes) == pytest.approx(eval(text, {}, sizes), abs=1e-9)


@pytest.mark.parametrize("cell", ["", "0.1 +", "hip - 0.1", "2 hip", "__import__('os')", "0.1 * 0.2 * hip", "hip()"])
def test_a_cell_that_is_no_such_sum_is_refused(cell: str):
    with pytest.raises((ValueError, KeyError)):
        total(cell, dict.fromkeys(NAMES, 1.0))


def test_a_size_that_a_part_asks_for_must_be_given():
    with pytest.raises(KeyError, match="girth"):
        sections("head")
    with pytest.raises(KeyError):
        details("torso", girth=0.0)


def test_sections_follow_one_another_along_their_part_and_have_room_in_them():
    zero = dict.fromkeys(("hip", "waist", "chest", "belly", "seat", "soft", "girth", "thigh", "calf", "ankle", "upper", "forearm", "wrist",
                          "bend", "flesh"), 0.0)
    for part in ("torso", "head", "leg", "foot", "arm", "hand"):
        rows = np.array(sections(part, **zero))
        assert len(rows) > 3
        assert (np.diff(rows[:, 0]) > 0).all(), part
        assert (rows[:, 3:7] > 0).all(), part
        assert (rows[:, 7] >= 1.9).all(), part  # no superellipse with hollow sides


def test_what_is_drawn_of_one_side_lies_on_the_left():
    """The body is drawn on its left and mirrored: nothing of one side reaches past the middle by more than its own thickness."""
    field = body_field({})
    parts = field.data[field.kinds != LOFT]
    assert (parts[:, 0] > -0.012).all()


def test_every_shape_of_the_tables_is_one_of_the_bodys_and_moves_it():
    known = {s.name for s in SHAPES}
    body = figure(1)
    for name in _SHAPES:
        assert name in known, name
        k = body.shapes.index(name)
        assert 0.001 < np.linalg.norm(body.deltas[k], axis=1).max() < 0.25, name
    assert set(_BESIDES) <= known


def test_the_shapes_of_the_two_sides_are_mirror_images_and_the_whole_is_both():
    body = figure(1)
    whole = [s.name for s in SHAPES if s.sided and s.name in _SHAPES and not s.name.startswith("leg")]
    assert len(whole) > 5
    for name in whole:
        left = np.linalg.norm(body.deltas[body.shapes.index(f"{name}_left")], axis=1) if f"{name}_left" in body.shapes else None
        both = np.linalg.norm(body.deltas[body.shapes.index(name)], axis=1)
        right = body.base[:, 0] < -0.02
        assert both[right].max() == pytest.approx(both[body.base[:, 0] > 0.02].max(), rel=0.02), name
        assert left is None or left[right].max() <= both[right].max() + 1e-6, name


def lines(table: dict) -> list[dict]:
    """Every line of a table that is written by its knots."""
    below = [each for each in table.values() if isinstance(each, dict)]
    return [table] if "is" in table else [line for each in below for line in lines(each)]


def test_the_lines_of_the_cage_are_numpys_and_their_knots_go_up():
    drawn = lines(drawing("cage"))
    assert len(drawn) >= 8
    for line in drawn:
        assert len(line["at"]) == len(line["is"]) >= 2
        assert (np.diff(line["at"]) > 0).all()
        middle = 0.5 * (line["at"][0] + line["at"][1])
        assert on_line(line, middle) == pytest.approx(0.5 * (line["is"][0] + line["is"][1]))
        assert (on_line(line, line["at"][0] - 1.0), on_line(line, line["at"][-1] + 1.0)) == (line["is"][0], line["is"][-1])


def test_joints_take_over_one_after_the_other_along_every_part():
    rig, names = drawing("rig"), set(figure().skeleton.names)
    for part, bands in rig["bands"].items():
        low, high = np.array([band[1:] for band in bands]).T
        assert (low < high).all(), part
        assert (np.diff(low) > 0).all(), part
        assert (np.diff(high) > 0).all(), part
        assert all(joint in names or {f"l_{joint}", f"r_{joint}"} <= names for joint, *_ in bands), part
    assert sum(rig["pelvis"].values()) == pytest.approx(1.0)
    assert [row["joint"] for row in rig["spine"][1:]] == [name for name in figure().skeleton.names if name[1] != "_"][1:len(rig["spine"])]
    for above, row in zip(rig["spine"], rig["spine"][1:], strict=False):
        assert row["from"] == above["joint"]
        assert row["place"][0] == 0.0, "the middle's joints lie on the middle"
