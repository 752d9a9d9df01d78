"""Tape measures on bodies, and bodies from measures."""

import time

import numpy as np
import pytest
import trimesh
from scipy.spatial import ConvexHull

from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.measures.measure_sheet import read_measure_sheet
from wily_heron.core.figure.measures.measure_solve import solve_measures
from wily_heron.core.figure.measures.measures import MEASURES, take
from wily_heron.core.figure.measures.tapes import slice_tape
from wily_heron.core.figure.references import REFERENCES
from wily_heron.core.mesh.edges import unique_edges


def test_a_tape_round_a_ball_is_a_circle():
    ball = trimesh.creation.icosphere(5, 0.1)
    edges = unique_edges(np.asarray(ball.faces, np.int32))[0].astype(np.int64)
    tape = slice_tape(np.asarray(ball.vertices), edges, np.array([0.0, 0.06, 0.0]), np.array([0.0, 1.0, 0.0]))
    assert tape is not None
    assert tape.length(np.asarray(ball.vertices)) == pytest.approx(2 * np.pi * 0.08, rel=2e-3)


def test_a_tape_bridges_a_hollow():
    two = trimesh.util.concatenate([trimesh.creation.icosphere(5, 0.1).apply_translation((x, 0, 0)) for x in (-0.1, 0.1)])
    edges = unique_edges(np.asarray(two.faces, np.int32))[0].astype(np.int64)
    tape = slice_tape(np.asarray(two.vertices), edges, np.array([0.0, 1e-4, 0.0]), np.array([0.0, 1.0, 0.0]))
    assert tape is not None
    assert tape.length(np.asarray(two.vertices)) == pytest.approx(2 * np.pi * 0.1 + 4 * 0.1, rel=2e-3)  # two half circles, two straights


def test_the_waist_is_what_another_library_cuts():
    wearer = shaped(figure(), {"girth": 0.3})
    taken = take(wearer, ("waist_girth",))["waist_girth"]
    height = float(taken.tape.on(wearer.points)[:, 1].mean())
    mesh = trimesh.Trimesh(wearer.points, wearer.body.triangles, process=False)
    cut = trimesh.intersections.mesh_plane(mesh, [0, 1, 0], [0, height, 0]).reshape(-1, 3)[:, [0, 2]]
    trunk = ConvexHull(cut[np.abs(cut[:, 0]) < 0.3])  # the hands hang farther out
    assert taken.value == pytest.approx(trunk.area, abs=5e-4)  # a flat hull's "area" is its outline


def test_there_are_at_least_25_measures_and_a_scaled_body_scales_them():
    taken = take(shaped(figure(), {}))
    assert len(MEASURES) >= 25
    assert taken["stature"].value == pytest.approx(float(figure().base[:, 1].max()), abs=1e-4)
    assert 0.44 < taken["inside_leg_height"].value / taken["stature"].value < 0.49
    assert taken["under_bust_girth"].value < taken["bust_girth"].value
    assert taken["wrist_girth"].value < taken["forearm_girth"].value < taken["upper_arm_girth"].value


@pytest.mark.parametrize("reference", REFERENCES, ids=lambda r: r.name)
def test_a_reference_body_has_the_measures_of_its_size(reference):
    solved = solve_measures(figure(), reference.measures, around=reference.build, keep=reference.keep)
    again = take(shaped(figure(), solved.shape), tuple(reference.measures))
    for name, wanted in reference.measures.items():
        assert again[name].value == pytest.approx(wanted, abs=0.005)
    assert max(abs(v) for v in solved.shape.values()) <= 1.0


def test_five_measures_are_met_within_5_mm_and_a_second():
    asked = {"stature": 1.82, "bust_girth": 1.04, "waist_girth": 0.92, "hip_girth": 1.08, "inside_leg_height": 0.84}
    solve_measures(figure(), asked)
    start = time.perf_counter()
    solved = solve_measures(figure(), asked)
    assert time.perf_counter() - start < 5.0  # the bench holds it to a second; this only catches a runaway
    assert all(solved.met(name) for name in asked)


def test_what_the_figure_cannot_reach_is_said():
    solved = solve_measures(figure(), {"stature": 2.6, "waist_girth": 0.74})
    assert not solved.met("stature")
    assert solved.reached["stature"] < 2.5


def test_an_unknown_measure_is_refused():
    with pytest.raises(InputError, match="no measure called 'wingspan'"):
        solve_measures(figure(), {"wingspan": 1.0})


def test_a_measure_sheet_is_read_in_the_unit_it_states():
    sheet = 'measure,value,unit\nStature,182,cm\nbust_girth,1040,mm\nWaist girth,"92,5",cm\n'
    assert read_measure_sheet(sheet, "sheet.csv") == pytest.approx({"stature": 1.82, "bust_girth": 1.04, "waist_girth": 0.925})


@pytest.mark.parametrize(
    ("sheet", "says"), [("", "empty"), ("measure,value\nwingspan,3\n", "line 2"), ("stature,tall\n", "line 1"), ("stature,-4\n", "line 1")]
)
def test_a_bad_measure_sheet_says_which_line(sheet: str, says: str):
    with pytest.raises(InputError, match=says):
        read_measure_sheet(sheet, "sheet.csv")
