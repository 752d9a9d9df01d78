"""A clearing kept in the way that holds best where it was not made: on faults whose origin is known because they are built."""

from dataclasses import replace

import numpy as np
import pytest

from bench.clearing import dressed_in
from bench.wardrobe import wearers
from tests.truth.planted import BODY, NEUTRAL, chest_of, tunic_of, with_dent
from wily_heron.core.clear.clear_cells import measure_cells
from wily_heron.core.clear.keep_best import clear_best, held_out
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.figure.base.body import shape_values, shaped
from wily_heron.core.figure.base.pose_types import REST
from wily_heron.core.motion.pose_library import POSES


def test_a_dent_is_mended_for_good_though_it_was_cleared_in_a_pose():
    tunic = tunic_of(0.010)
    dented = with_dent(tunic, chest_of(tunic), 0.06, 0.018)
    made, _, ways = clear_best(dented, BODY, [(NEUTRAL, POSES["stride"])], 0.004)
    assert [w.keep for w in ways] == ["rest", "pose"]
    assert ways[1].apart > ways[0].apart + 1.0
    for pose in (REST, POSES["reach-up"]):  # nor are these among those it was tried in
        assert Dressed(shaped(BODY, NEUTRAL), {"t": made}).measure(pose).figures.holds


def test_what_only_a_shape_brings_about_is_kept_for_the_shape():
    deaf = replace(tunic_of(0.006), deltas=np.zeros_like(tunic_of(0.006).deltas))
    stout = shape_values(BODY, {"belly": 0.5})
    made, (report,), ways = clear_best(deaf, BODY, [(stout, REST)], 0.004)
    assert ways[0].keep == "shape"
    assert report.after.area_cm2 < 0.1 * report.before.area_cm2
    assert np.array_equal(made.mesh.points, deaf.mesh.points)  # other wearers keep theirs


def test_what_it_says_of_the_ways_is_what_is_measured():
    wearer = wearers()["heavy"]
    trousers = dressed_in(("trousers",), wearer)["trousers"]
    cells = [(wearer.shape, POSES["kneel"])]
    made, _, ways = clear_best(trousers, wearer.body, cells, 0.004)
    total = lambda piece, where: sum(f.area_cm2 for f in measure_cells(piece, wearer.body, where))  # noqa: E731
    apart = held_out(cells)
    assert {p.name for _, p in apart}.isdisjoint(POSES)
    assert (total(made, cells), total(made, apart)) == (pytest.approx(ways[0].here, abs=0.01), pytest.approx(ways[0].apart, abs=0.01))
    assert ways[0].here + ways[0].apart <= min(w.here + w.apart for w in ways) + 0.06
    assert ways[0].here < 0.1 * total(trousers, cells)
